/** Doubles as the renderer plays them: with how loud each hit is by itself. */
import type { AudioData } from '../../dsp/audio.ts';
import type { Double } from '../../document/schema.ts';
import type { PlacedZone } from '../../queries/zones.ts';
import type { DoubleFragment } from './fragments.ts';

/** A hit is as loud as it gets in its beginning. */
const LOOKED_AT_SECONDS = 0.15;

/** A hit in its own sound; without audio it is as loud as any. */
interface Hit {
  startFrame: number;
  endFrame: number;
  audio: AudioData | undefined;
}
export type DoubleInputs = Omit<Double, 'values'> & { hits: readonly (Hit | null)[]; isHeard: boolean };

/** A double, with the hits that it lies under; null for one that is gone. */
export function doubleInputs(
  { values: _, ...double }: Double,
  placed: ReadonlyMap<string, PlacedZone>,
  assets: ReadonlyMap<string, AudioData>,
  isHeard: boolean,
): DoubleInputs {
  const hits = double.zoneIds.map((id) => {
    const one = placed.get(id);
    if (!one) return null;
    const { startFrame, endFrame } = one.at;
    return { startFrame, endFrame, audio: assets.get(one.cut.sourceId) };
  });
  return { ...double, hits, isHeard };
}

export function doubleShape({
  id,
  soundId,
  zoneIds,
  hits,
  channelId,
  isHeard,
}: DoubleInputs): Omit<DoubleFragment, 'values'> {
  const peaks = hits.map((hit) => (hit?.audio ? peakOf(hit.audio, hit.startFrame, hit.endFrame) : 1));
  const loudest = Math.max(...peaks);
  const levels = Float64Array.from(peaks, (peak) => (loudest > 0 ? peak / loudest : 1));
  return { id, soundId, zoneIds, levels, channelId: channelId ?? null, isHeard };
}

function peakOf({ channels, sampleRate }: AudioData, startFrame: number, endFrame: number): number {
  const until = Math.min(endFrame, startFrame + Math.round(LOOKED_AT_SECONDS * sampleRate));
  let peak = 0;
  for (const samples of channels) {
    for (let at = startFrame; at < until; at++) peak = Math.max(peak, Math.abs(samples[at] ?? 0));
  }
  return peak;
}
