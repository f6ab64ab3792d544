/** How much of a stretch of drums is something else: hits that are none, and tones that sound under them. */
import { flatness } from '../../dsp/flatness.ts';
import { WindowPair } from '../../dsp/window-pair.ts';
import type { HeardHit } from './hear-hits.ts';

/** What sounds under the drums is heard just before each next hit, where they have died away. */
const SEEN_SECONDS = 0.046;
const BEFORE_SECONDS = 0.002;
/** It counts where it is no softer than this against the loudest, in dB, and its spectrum no flatter. */
const HEARD_DB = -27;
const MOST_FLAT = 0.1;
const LOW_HZ = 200;
const HIGH_HZ = 5000;

const pairs = new Map<number, WindowPair>();

/** @returns 0 (drums alone) to 1 */
export function othersIn(
  signal: Float32Array,
  sampleRate: number,
  hits: readonly HeardHit[],
  startFrame: number,
  endFrame: number,
): number {
  const inside = hits.filter(({ frame }) => frame >= startFrame && frame < endFrame);
  if (inside.length === 0) return 1;
  let peak = 1e-6;
  for (let i = startFrame; i < endFrame; i++) peak = Math.max(peak, Math.abs(signal[i]!));
  let sum = 0;
  for (const [place, { drums }] of inside.entries()) {
    const next = inside[place + 1]?.frame ?? endFrame;
    const isTone = hasTone(signal, sampleRate, next - Math.round(BEFORE_SECONDS * sampleRate), peak);
    sum += isTone ? 1 : 1 - drums;
  }
  return sum / inside.length;
}

function hasTone(signal: Float32Array, sampleRate: number, end: number, peak: number): boolean {
  const size = 2 ** Math.round(Math.log2(SEEN_SECONDS * sampleRate));
  let pair = pairs.get(size);
  if (!pair) pairs.set(size, (pair = new WindowPair(size)));
  let power = 0;
  for (let i = Math.max(0, end - size); i < end; i++) power += signal[i]! * signal[i]!;
  if (10 * Math.log10(power / size / (peak * peak) + 1e-12) < HEARD_DB) return false;
  pair.load(0, signal, end - size);
  pair.loadNothing();
  pair.measure();
  const [first, last] = [LOW_HZ, Math.min(HIGH_HZ, sampleRate / 2)].map((hz) => Math.ceil((hz * size) / sampleRate));
  return flatness(pair.powers[0], first!, last!) < MOST_FLAT;
}
