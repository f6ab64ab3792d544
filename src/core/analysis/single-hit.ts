/** Is a sound one hit or note, rather than a loop? */
import type { AudioData } from '../dsp/audio.ts';

/** Longer sounds are taken for loops, however they move. */
const MAX_SECONDS = 6;
/** A further hit is a rise: so much louder after its marker than just before, and so loud against the loudest. */
const MIN_RISE = 1.6;
const MIN_SHARE_OF_PEAK = 0.25;
/** Looked at around a marker, in seconds; markers nearer to the first than the second belong to its attack. */
const BEFORE_SECONDS = 0.012;
const AFTER_SECONDS = 0.03;
const ATTACK_SECONDS = 0.06;

/**
 * One that begins and dies away, whatever shimmers in its tail: no marker after its attack rises out of what sounds.
 * @param markers frames, the first at the attack
 */
export function isSingleHit({ channels, sampleRate }: AudioData, markers: readonly number[]): boolean {
  const frames = channels[0]?.length ?? 0;
  if (frames > MAX_SECONDS * sampleRate) return false;
  const loudest = peakOf(channels, 0, frames);
  const [first = 0] = markers;
  return !markers.some((frame) => {
    if (frame - first < ATTACK_SECONDS * sampleRate) return false;
    const before = peakOf(channels, frame - BEFORE_SECONDS * sampleRate, frame);
    const after = peakOf(channels, frame, frame + AFTER_SECONDS * sampleRate);
    return after >= MIN_RISE * before && after >= MIN_SHARE_OF_PEAK * loudest;
  });
}

function peakOf(channels: readonly Float32Array[], from: number, to: number): number {
  let peak = 0;
  for (const channel of channels) {
    const end = Math.min(channel.length, Math.round(to));
    for (let i = Math.max(0, Math.round(from)); i < end; i++) peak = Math.max(peak, Math.abs(channel[i]!));
  }
  return peak;
}
