/** What of a sound is silence: the noise beneath it, and what stands out of that. */
import { nearestZeroCrossing, zeroCrossingBefore } from './snap.ts';
import type { FrameRange, SourceAnalysis } from './analyse-source.ts';

type Sound = Pick<SourceAnalysis, 'mono' | 'sampleRate'>;

/** Levels are means of so long: shorter than any tail, and long enough for even noise. */
const WINDOW_SECONDS = 0.005;
/** The floor is what a twentieth of the sound stays below. */
const FLOOR_SHARE = 0.05;
/** Noise wavers by some dB from window to window. */
const ABOVE_FLOOR_DB = 6;
/** Nearer than this to the loudest nothing is silence: a sound without a pause has no floor to be read. */
const BELOW_LOUDEST_DB = 30;
const REACH_SECONDS = 0.001;

/** Levels that silence can be looked for below. */
export const LEAST_SILENCE_DB = -96;
export const MOST_SILENCE_DB = -6;

/** Level of each window, as a mean square. */
function* windows({ mono, sampleRate }: Sound, from: number, to: number): Generator<[frame: number, power: number]> {
  const size = Math.max(1, Math.round(WINDOW_SECONDS * sampleRate));
  for (let start = from; start < to; start += size) {
    const end = Math.min(to, start + size);
    let sum = 0;
    for (let i = start; i < end; i++) sum += mono[i]! * mono[i]!;
    yield [start, sum / (end - start)];
  }
}

const powerOf = (levelDb: number) => 10 ** (levelDb / 10);

/**
 * Below which level a sound is silence, as its own noise suggests: a little above what its quietest twentieth stays below.
 * @returns whole dB of full scale (of the mean square), within {@link LEAST_SILENCE_DB} and {@link MOST_SILENCE_DB}
 */
export function silenceLevelDb(sound: Sound): number {
  const powers = Float64Array.from(windows(sound, 0, sound.mono.length), ([, power]) => power).sort();
  const floor = powers[Math.floor(FLOOR_SHARE * powers.length)] ?? 0;
  const loudest = powers.at(-1) ?? 0;
  const floorDb = 10 * Math.log10(floor + 1e-12) + ABOVE_FLOOR_DB;
  const level = Math.min(floorDb, 10 * Math.log10(loudest + 1e-12) - BELOW_LOUDEST_DB);
  return Math.round(Math.max(LEAST_SILENCE_DB, Math.min(MOST_SILENCE_DB, level)));
}

/**
 * What sounds in a range: from the first to the last moment above a level, its ends on zero crossings.
 * @returns the range itself when all of it is louder, and when nothing is
 */
export function soundingRange(sound: Sound, { startFrame, endFrame }: FrameRange, levelDb: number): FrameRange {
  const { mono, sampleRate } = sound;
  const threshold = powerOf(levelDb);
  let first = -1;
  let last = -1;
  for (const [frame, power] of windows(sound, startFrame, endFrame)) {
    if (power <= threshold) continue;
    if (first < 0) first = frame;
    last = frame;
  }
  if (first < 0) return { startFrame, endFrame };
  const size = Math.round(WINDOW_SECONDS * sampleRate);
  const reach = Math.round(REACH_SECONDS * sampleRate);
  const end = last + size;
  return {
    startFrame:
      first === startFrame ? startFrame : Math.max(startFrame, zeroCrossingBefore(mono, attackIn(sound, first), reach)),
    endFrame: end >= endFrame ? endFrame : Math.min(endFrame, nearestZeroCrossing(mono, end, reach) + 1),
  };
}

/** Where the sound of a window begins: at the first sample that stands out of what lies before it. */
function attackIn({ mono, sampleRate }: Sound, windowFrame: number): number {
  const size = Math.round(WINDOW_SECONDS * sampleRate);
  let before = 0;
  for (let i = Math.max(0, windowFrame - size); i < windowFrame; i++) before = Math.max(before, Math.abs(mono[i]!));
  let first = windowFrame;
  while (first < windowFrame + size && Math.abs(mono[first]!) <= before) first++;
  return first;
}
