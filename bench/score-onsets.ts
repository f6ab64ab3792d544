/**
 * Scores markers against the truth. One to one: of all matchings within the tolerance the one with most pairs, and of
 * those the one with the least total distance (dynamic programming over the two sorted lists), as is usual in onset
 * detection (S. Böck, F. Krebs, M. Schedl, "Evaluating the online capabilities of onset detection methods", ISMIR 2012,
 * with a tolerance of one's own).
 */

export interface TrueOnset {
  frame: number;
  frameExact?: number;
  roles: string[];
  velocity?: number;
  /** Drowned by what else sounds: counted neither when found nor when missed. */
  masked?: boolean;
  /** From the start to -6 dB of the peak; soft attacks above 20 ms may count as a span. */
  riseMs?: number;
}

export interface TrueLoop {
  sampleRate: number;
  frames: number;
  bpm: number;
  beatsPerBar: number;
  bars: number;
  tags: string[];
  loopStart?: number;
  onsets: TrueOnset[];
}

export interface OnsetScore {
  found: number;
  missed: number;
  invented: number;
  /** Marker minus truth in ms, for the pairs that count. */
  errorsMs: number[];
}

/** Markers this near to the file's start (or the loop's) are no error where no onset is. */
const START_SECONDS = 0.005;
const SOFT_RISE_MS = 20;

/** Pairs `[onset, marker]` of the best matching; all times in seconds, sorted. */
export function matchOnsets(
  truth: readonly number[],
  markers: readonly number[],
  toleranceSeconds: number,
  spans: readonly number[] = [],
): [number, number][] {
  const distance = (i: number, j: number) => {
    const away = markers[j]! - truth[i]!;
    const span = spans[i] ?? 0;
    if (away >= 0 && away <= span) return 0;
    return away > span ? away - span : -away;
  };
  const n = truth.length;
  const m = markers.length;
  const count = Array.from({ length: n + 1 }, () => new Int32Array(m + 1));
  const cost = Array.from({ length: n + 1 }, () => new Float64Array(m + 1));
  const better = (c: number, d: number, i: number, j: number) =>
    c > count[i]![j]! || (c === count[i]![j]! && d < cost[i]![j]! - 1e-12);
  for (let i = 1; i <= n; i++) {
    for (let j = 1; j <= m; j++) {
      count[i]![j] = count[i - 1]![j]!;
      cost[i]![j] = cost[i - 1]![j]!;
      if (better(count[i]![j - 1]!, cost[i]![j - 1]!, i, j)) {
        count[i]![j] = count[i]![j - 1]!;
        cost[i]![j] = cost[i]![j - 1]!;
      }
      const away = distance(i - 1, j - 1);
      if (away > toleranceSeconds + 1e-9) continue;
      if (better(count[i - 1]![j - 1]! + 1, cost[i - 1]![j - 1]! + away, i, j)) {
        count[i]![j] = count[i - 1]![j - 1]! + 1;
        cost[i]![j] = cost[i - 1]![j - 1]! + away;
      }
    }
  }
  const pairs: [number, number][] = [];
  for (let i = n, j = m; i > 0 && j > 0;) {
    const same = (a: number, b: number) => count[a]![b] === count[i]![j] && cost[a]![b] === cost[i]![j];
    if (same(i - 1, j)) i--;
    else if (same(i, j - 1)) j--;
    else pairs.push([--i, --j]);
  }
  return pairs;
}

/** Scores the markers (frames) of one loop at a tolerance. */
export function scoreLoop(
  loop: TrueLoop,
  markerFrames: readonly number[],
  toleranceMs: number,
  softSpan = false,
): OnsetScore {
  const onsets = [...loop.onsets].sort((a, b) => (a.frameExact ?? a.frame) - (b.frameExact ?? b.frame));
  const truth = onsets.map((onset) => (onset.frameExact ?? onset.frame) / loop.sampleRate);
  const markers = [...markerFrames].sort((a, b) => a - b).map((frame) => frame / loop.sampleRate);
  const spans = softSpan ? onsets.map(({ riseMs = 0 }) => (riseMs > SOFT_RISE_MS ? riseMs / 1000 : 0)) : [];
  const pairs = matchOnsets(truth, markers, toleranceMs / 1000, spans);
  const paired = new Set(pairs.map(([, marker]) => marker));
  const free = [0, ...(loop.loopStart ? [loop.loopStart / loop.sampleRate] : [])];
  const excused = markers.filter(
    (at, index) =>
      !paired.has(index) &&
      free.some(
        (zero) => Math.abs(at - zero) <= START_SECONDS && !truth.some((time) => Math.abs(time - zero) <= START_SECONDS),
      ),
  ).length;
  const counted = pairs.filter(([onset]) => !onsets[onset]!.masked);
  const real = onsets.filter((onset) => !onset.masked).length;
  return {
    found: counted.length,
    missed: real - counted.length,
    invented: markers.length - pairs.length - excused,
    errorsMs: counted.map(([onset, marker]) => (markers[marker]! - truth[onset]!) * 1000),
  };
}

/** F-measure of added-up counts. */
export function fMeasure({ found, missed, invented }: Pick<OnsetScore, 'found' | 'missed' | 'invented'>): number {
  return found === 0 ? 0 : (2 * found) / (2 * found + missed + invented);
}
