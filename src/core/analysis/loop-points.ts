/**
 * Where a sound can go round without being heard to: two places whose surroundings are as alike as can be, so that level
 * and phase go on (normalised cross-correlation, as overlap-add of similar pieces finds its places: W. Verhelst and
 * M. Roelands, ICASSP 1993).
 */

export interface LoopPoints {
  startFrame: number;
  endFrame: number;
  crossfadeFrames: number;
  /** How alike the two places are, -1..1. */
  likeness: number;
  /** Level at the end over that at the start. */
  levelStepDb: number;
}

/** What is compared around both places. */
const WINDOW_SECONDS = 0.03;
const SHORTEST_SECONDS = 0.05;
/** Level is taken over this much around a place. */
const LEVEL_SECONDS = 0.04;
/** The attack, and what comes right after it, is no place to come back to. */
const AFTER_PEAK_SECONDS = 0.03;
/** Quieter than this below its loudest a sound is over. */
const OVER_DB = -50;
const STARTS = 14;
const ROUGH_STEP = 3;
const ROUGH_STRIDE = 6;
/** Ends that are looked at closely, for each start. */
const CLOSE_LOOKS = 4;
/** A decibel of a step in level counts as much as this of likeness; so does each halving of the length. */
const LEVEL_WEIGHT = 0.06;
const LENGTH_WEIGHT = 0.012;
const LONG_SECONDS = 1;
/** Loops nearer to each other than this are the same to a user. */
const SAME_SECONDS = 0.01;
const ALIKE = 0.995;

/**
 * The best loops of `signal[startFrame..endFrame)`, best first; none where a sound is too short or silent.
 * @param signal one channel, or the mean of two
 * @param count how many at most
 */
export function findLoopPoints(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
  count = 6,
): LoopPoints[] {
  const window = Math.round(WINDOW_SECONDS * sampleRate);
  const half = window >> 1;
  const shortest = Math.round(SHORTEST_SECONDS * sampleRate);
  const [from, to] = steadyRange(signal, sampleRate, startFrame, endFrame);
  const last = to - half;
  const found: (LoopPoints & { score: number })[] = [];
  for (let place = 0; place < STARTS; place++) {
    const wanted = Math.round(from + half + ((last - shortest - from - half) * place) / (STARTS * 1.4));
    const start = risingCrossing(signal, wanted, sampleRate);
    if (start - half < startFrame || start + shortest >= last) continue;
    for (const end of likelyEnds(signal, start, start + shortest, last, half)) {
      const { likeness, levelStepDb } = loopQuality(signal, sampleRate, start, end);
      const halvings = Math.max(0, Math.log2((LONG_SECONDS * sampleRate) / (end - start)));
      const score = likeness - LEVEL_WEIGHT * Math.abs(levelStepDb) - LENGTH_WEIGHT * halvings;
      const seconds = likeness > ALIKE ? 0.01 : 0.04;
      const crossfadeFrames = Math.min(Math.round(seconds * sampleRate), (end - start) >> 1, start - startFrame);
      found.push({ startFrame: start, endFrame: end, crossfadeFrames, likeness, levelStepDb, score });
    }
  }
  found.sort((a, b) => b.score - a.score);
  const chosen: LoopPoints[] = [];
  const near = SAME_SECONDS * sampleRate;
  for (const { score: _score, ...loop } of found) {
    const isKnown = chosen.some(
      (one) => Math.abs(one.startFrame - loop.startFrame) < near && Math.abs(one.endFrame - loop.endFrame) < near,
    );
    if (!isKnown) chosen.push(loop);
    if (chosen.length === count) break;
  }
  return chosen;
}

/** How well a loop goes round: how alike its two places are, and the step in level from its end to its start. */
export function loopQuality(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
): Pick<LoopPoints, 'likeness' | 'levelStepDb'> {
  const half = Math.round(WINDOW_SECONDS * sampleRate) >> 1;
  return {
    likeness: correlation(signal, startFrame, endFrame, half, 1),
    levelStepDb: levelDb(signal, endFrame, sampleRate) - levelDb(signal, startFrame, sampleRate),
  };
}

/** From after the attack to where the sound is over. */
function steadyRange(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  endFrame: number,
): [from: number, to: number] {
  const hop = Math.max(1, Math.round(0.01 * sampleRate));
  let peak = 0;
  let peakAt = startFrame;
  let to = startFrame;
  const levels: number[] = [];
  for (let at = startFrame; at + hop <= endFrame; at += hop) {
    let sum = 0;
    for (let i = at; i < at + hop; i++) sum += signal[i]! * signal[i]!;
    const level = Math.sqrt(sum / hop);
    levels.push(level);
    if (level > peak) [peak, peakAt] = [level, at];
  }
  const over = peak * 10 ** (OVER_DB / 20);
  levels.forEach((level, i) => {
    if (level > over) to = startFrame + (i + 1) * hop;
  });
  // What swells has its peak late: it may come back to any place after its first tenth.
  const settled = Math.min(peakAt + hop + AFTER_PEAK_SECONDS * sampleRate, startFrame + (to - startFrame) * 0.3);
  return [Math.round(Math.max(startFrame + 0.05 * (to - startFrame), settled)), to];
}

/** The zero crossing upwards nearest to a frame, within 10 ms; the frame itself where there is none. */
function risingCrossing(signal: Float32Array, frame: number, sampleRate: number): number {
  const reach = Math.round(0.01 * sampleRate);
  for (let off = 0; off < reach; off++) {
    for (const at of [frame + off, frame - off]) {
      if (at > 0 && signal[at - 1]! < 0 && signal[at]! >= 0) return at;
    }
  }
  return frame;
}

/** Ends at which what comes is most like what comes at the start: roughly first, then each around its best. */
function likelyEnds(signal: Float32Array, start: number, from: number, to: number, half: number): number[] {
  const rough: { at: number; value: number }[] = [];
  let before = -1;
  let current = correlation(signal, start, from, half, ROUGH_STRIDE);
  for (let at = from; at + ROUGH_STEP < to; at += ROUGH_STEP) {
    const next = correlation(signal, start, at + ROUGH_STEP, half, ROUGH_STRIDE);
    if (current >= before && current >= next && current > 0) rough.push({ at, value: current });
    before = current;
    current = next;
  }
  // The likest, and the latest of those that are nearly as alike: long loops are heard least.
  const best = rough.reduce((most, { value }) => Math.max(most, value), 0);
  const alike = rough.filter(({ value }) => value > best - 0.01);
  const late = [alike.at(-1), alike[alike.length >> 1]].filter((one) => one !== undefined);
  rough.sort((a, b) => b.value - a.value);
  return [...new Set([...rough.slice(0, CLOSE_LOOKS), ...late].map(({ at }) => at))].map((at) => {
    let found = at;
    let most = -1;
    for (let end = at - ROUGH_STEP; end <= at + ROUGH_STEP; end++) {
      const value = correlation(signal, start, end, half, 2);
      if (value > most) [most, found] = [value, end];
    }
    return found;
  });
}

/** Normalised correlation of the surroundings of two frames; every `stride`th sample counts. */
function correlation(signal: Float32Array, a: number, b: number, half: number, stride: number): number {
  let product = 0;
  let powerA = 1e-12;
  let powerB = 1e-12;
  for (let i = -half; i < half; i += stride) {
    const x = signal[a + i] ?? 0;
    const y = signal[b + i] ?? 0;
    product += x * y;
    powerA += x * x;
    powerB += y * y;
  }
  return product / Math.sqrt(powerA * powerB);
}

function levelDb(signal: Float32Array, frame: number, sampleRate: number): number {
  const half = Math.round((LEVEL_SECONDS * sampleRate) / 2);
  let sum = 1e-12;
  for (let i = frame - half; i < frame + half; i++) sum += (signal[i] ?? 0) ** 2;
  return 10 * Math.log10(sum / (2 * half));
}
