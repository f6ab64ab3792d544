/** Doubles as the renderer plays them: with how loud each hit is by itself. */
import type { AudioData } from '../../dsp/audio.ts';
import type { Double } from '../../document/schema.ts';
import type { PlacedZone } from '../../queries/zones.ts';
import type { DoubleFragment } from './fragments.ts';

/** A hit is as loud as it gets in its beginning. */
const LOOKED_AT_SECONDS = 0.15;

/** What the levels of its hits follow from. */
export function levelSources(
  { zoneIds }: Double,
  placed: ReadonlyMap<string, PlacedZone>,
  assets: ReadonlyMap<string, AudioData>,
): unknown[] {
  return zoneIds.flatMap((id) => {
    const one = placed.get(id);
    return one ? [one.at.startFrame, one.at.endFrame, assets.get(one.cut.sourceId)] : [];
  });
}

export function doubleFragment(
  { id, soundId, zoneIds }: Double,
  placed: ReadonlyMap<string, PlacedZone>,
  assets: ReadonlyMap<string, AudioData>,
  values: Float64Array,
): DoubleFragment {
  const peaks = zoneIds.map((zoneId) => {
    const one = placed.get(zoneId);
    const audio = one && assets.get(one.cut.sourceId);
    return audio ? peakOf(audio, one.at.startFrame, one.at.endFrame) : 1;
  });
  const loudest = Math.max(...peaks);
  const levels = Float64Array.from(peaks, (peak) => (loudest > 0 ? peak / loudest : 1));
  return { id, soundId, zoneIds, levels, values };
}

function peakOf({ channels, sampleRate }: AudioData, startFrame: number, endFrame: number): number {
  const until = Math.min(endFrame, startFrame + Math.round(LOOKED_AT_SECONDS * sampleRate));
  let peak = 0;
  for (const samples of channels) {
    for (let at = startFrame; at < until; at++) peak = Math.max(peak, Math.abs(samples[at] ?? 0));
  }
  return peak;
}
