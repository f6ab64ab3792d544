/**
 * Where the bars of a loop begin whose player drifts: lines that the hits of each bar fit best, while a bar is about as
 * long as the one before. Found as the cheapest path over pairs of lines (dynamic programming, as beats are tracked by
 * D. Ellis, "Beat tracking by dynamic programming", J. New Music Research 36, 2007), then fitted to the hits themselves.
 */
import { barLines, evenLoop, loopTicksAt, type TimedLoop } from '../units/loop-time.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

export interface BarHit {
  /** Where the attack begins. */
  frame: number;
  /** 0..1. */
  strength: number;
}

/** Lines are looked for in such steps, and no further from where bars of one length have them. */
const STEP_SECONDS = 0.006;
const MOST_SECONDS = 0.36;
/** Nor further than this share of a beat: beyond it a bar would begin on another beat. */
const MOST_BEATS = 0.75;
/** How far from its line a hit may be to speak for it: half as much from here. */
const NEAR_SECONDS = 0.014;
/** Bars differ by so much from the one before, and from the mean, at most and usually. */
const MOST_CHANGE = 0.07;
const USUAL_CHANGE = 0.012;
const USUAL_OFF_MEAN = 0.04;
/** A bar of hits outweighs one doubtful change: changes count so much, in hits. */
const CHANGE_WEIGHT = 1.5;
/** What a hit counts on the first beat of a bar, on a beat, on half of one, on a step. */
const DOWNBEAT = 2.2;
const BEAT = 1.5;
const HALF_BEAT = 1.15;
/** Hits further than this from their step say nothing of the bar lines when these are fitted. */
const FIT_SECONDS = 0.035;
const FIT_SWEEPS = 200;
/** Lines that differ from even ones by less than this are even. */
const EVEN_SECONDS = 0.004;
/** And drifting lines have to fit better than even ones by this share. */
const BETTER = 1.06;
/** Fewer hits a bar than this say too little: lines could follow whatever there is. */
const LEAST_HITS = 4;

/**
 * The lines of all bars but the first.
 * @param stepTicks the grid that the loop's hits lie on: sixteenths or triplets
 * @returns null where bars of one length fit as well
 */
export function findBarFrames(
  hits: readonly BarHit[],
  loop: TimedLoop,
  sampleRate: number,
  stepTicks: number,
): number[] | null {
  const even = evenLoop(loop);
  if (loop.bars < 2) return null;
  const inside = hits.filter(
    ({ frame }) => frame >= loop.startFrame - STEP_SECONDS * sampleRate && frame < loop.endFrame,
  );
  if (inside.length < LEAST_HITS * loop.bars) return null;
  const bars = new BarFits(inside, even, sampleRate, stepTicks);
  const path = cheapestPath(bars, loop.bars);
  if (!path || bars.fitOf(path) < BETTER * bars.fitOf(barLines(even))) return null;
  const fitted = fitLines(path, inside, loop, sampleRate, stepTicks);
  const evenLines = barLines(even);
  const most = Math.max(...fitted.map((line, bar) => Math.abs(line - evenLines[bar]!)));
  return most < EVEN_SECONDS * sampleRate ? null : fitted.slice(1, -1).map(Math.round);
}

/** How well the hits between two lines fit the steps of a bar there. */
class BarFits {
  readonly evenLines: readonly number[];
  readonly stepFrames: number;
  readonly reach: number;
  readonly barFrames: number;
  private readonly steps: number;
  private readonly weights: readonly number[];
  private readonly nearFrames: number;

  constructor(
    private readonly hits: readonly BarHit[],
    loop: TimedLoop,
    sampleRate: number,
    stepTicks: number,
  ) {
    this.evenLines = barLines(loop);
    this.barFrames = this.evenLines[1]! - this.evenLines[0]!;
    this.stepFrames = STEP_SECONDS * sampleRate;
    const beatSeconds = this.barFrames / loop.beatsPerBar / sampleRate;
    this.reach = Math.max(1, Math.round(Math.min(MOST_SECONDS, MOST_BEATS * beatSeconds) / STEP_SECONDS));
    this.steps = Math.round((loop.beatsPerBar * TICKS_PER_BEAT) / stepTicks);
    this.weights = stepWeights(this.steps, stepTicks);
    this.nearFrames = NEAR_SECONDS * sampleRate;
  }

  /** A line that lies so many steps from where it is evenly. */
  lineAt(bar: number, steps: number): number {
    return this.evenLines[bar]! + steps * this.stepFrames;
  }

  /** In hits on their steps. */
  between(from: number, to: number): number {
    const perStep = (to - from) / this.steps;
    let fit = 0;
    for (let i = firstFrom(this.hits, from); i < this.hits.length; i++) {
      const { frame, strength } = this.hits[i]!;
      if (frame >= to) break;
      const step = Math.round((frame - from) / perStep);
      const off = (frame - from - step * perStep) / this.nearFrames;
      fit += (strength * this.weights[step]!) / (1 + off * off);
    }
    return fit;
  }

  /** What it takes from the fit that a bar is so long, after one that was so long (or after none). */
  changeCost(length: number, before: number | null): number {
    const offMean = (length / this.barFrames - 1) / USUAL_OFF_MEAN;
    const change = before === null ? 0 : (length / before - 1) / USUAL_CHANGE;
    return (CHANGE_WEIGHT * (offMean * offMean + change * change)) / 2;
  }

  fitOf(lines: readonly number[]): number {
    let fit = 0;
    for (let bar = 0; bar + 1 < lines.length; bar++) fit += this.between(lines[bar]!, lines[bar + 1]!);
    return fit;
  }
}

function stepWeights(steps: number, stepTicks: number): number[] {
  return Array.from({ length: steps + 1 }, (_, step) => {
    const ticks = step * stepTicks;
    if (step === 0 || step === steps) return DOWNBEAT;
    if (ticks % TICKS_PER_BEAT === 0) return BEAT;
    return ticks % (TICKS_PER_BEAT / 2) === 0 ? HALF_BEAT : 1;
  });
}

/** Place of the first hit at or after a frame. */
function firstFrom(hits: readonly BarHit[], frame: number): number {
  let low = 0;
  let high = hits.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (hits[middle]!.frame < frame) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The best ways to every pair of lines around a bar, both given in steps. */
class Reached {
  private readonly wide: number;
  private readonly values: Float32Array;
  private readonly from: Int16Array;

  constructor(private readonly reach: number) {
    this.wide = 2 * reach + 1;
    this.values = new Float32Array(this.wide ** 2).fill(-Infinity);
    this.from = new Int16Array(this.wide ** 2);
  }

  private place(first: number, last: number): number {
    return (first + this.reach) * this.wide + last + this.reach;
  }

  put(first: number, last: number, value: number, fromSteps: number): void {
    const place = this.place(first, last);
    this.values[place] = value;
    this.from[place] = fromSteps;
  }

  /** -Infinity where no path leads. */
  value(first: number, last: number): number {
    return this.values[this.place(first, last)]!;
  }

  /** Where the line before the first of a pair lies. */
  fromSteps(first: number, last: number): number {
    return this.from[this.place(first, last)]!;
  }
}

/** Lines of all bars, both ends where they are; null where no path leads through. */
function cheapestPath(bars: BarFits, count: number): number[] | null {
  const reached: Reached[] = [];
  const reachOf = (line: number) => (line === 0 || line === count ? 0 : bars.reach);
  for (let bar = 0; bar < count; bar++) {
    const here = new Reached(bars.reach);
    for (let first = -reachOf(bar); first <= reachOf(bar); first++) {
      const from = bars.lineAt(bar, first);
      for (let last = -reachOf(bar + 1); last <= reachOf(bar + 1); last++) {
        const to = bars.lineAt(bar + 1, last);
        if (Math.abs((to - from) / bars.barFrames - 1) > 2 * MOST_CHANGE) continue;
        if (bar === 0) here.put(first, last, bars.between(from, to) - bars.changeCost(to - from, null), 0);
        else extend(bars, reached[bar - 1]!, here, { bar, first, last });
      }
    }
    reached.push(here);
  }
  return linesBack(bars, reached);
}

/** The best way to a pair of lines, over those from where the bar before is about as long: others are not worth a look. */
function extend(
  bars: BarFits,
  before: Reached,
  here: Reached,
  { bar, first, last }: { bar: number; first: number; last: number },
): void {
  const from = bars.lineAt(bar, first);
  const length = bars.lineAt(bar + 1, last) - from;
  const middle = Math.round((from - length - bars.lineAt(bar - 1, 0)) / bars.stepFrames);
  const room = Math.ceil((length * MOST_CHANGE) / bars.stepFrames);
  const reach = bar === 1 ? 0 : bars.reach;
  let value = -Infinity;
  let fromSteps = 0;
  for (let steps = Math.max(-reach, middle - room); steps <= Math.min(reach, middle + room); steps++) {
    const known = before.value(steps, first);
    if (known <= value) continue;
    const one = known - bars.changeCost(length, from - bars.lineAt(bar - 1, steps));
    if (one <= value) continue;
    value = one;
    fromSteps = steps;
  }
  if (value > -Infinity) here.put(first, last, value + bars.between(from, from + length), fromSteps);
}

function linesBack(bars: BarFits, reached: readonly Reached[]): number[] | null {
  const last = reached.length - 1;
  let first = 0;
  for (let steps = -bars.reach; steps <= bars.reach; steps++) {
    if (reached[last]!.value(steps, 0) > reached[last]!.value(first, 0)) first = steps;
  }
  if (reached[last]!.value(first, 0) === -Infinity) return null;
  const steps = [0, first];
  for (let bar = last; bar > 0; bar--) steps.push(reached[bar]!.fromSteps(steps.at(-1)!, steps.at(-2)!));
  return steps.reverse().map((at, line) => bars.lineAt(line, at));
}

function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
}

/** Lines moved to where the hits of their bars lie on the average: weighted least squares, one line after another. */
function fitLines(
  path: readonly number[],
  hits: readonly BarHit[],
  loop: TimedLoop,
  sampleRate: number,
  stepTicks: number,
): number[] {
  const lines = [...path];
  const found = { ...loop, barFrames: path.slice(1, -1) };
  const barTicks = loop.beatsPerBar * TICKS_PER_BEAT;
  const reach = FIT_SECONDS * sampleRate;
  const weights = stepWeights(Math.round(barTicks / stepTicks), stepTicks);
  const placed = hits.flatMap(({ frame, strength }) => {
    const step = Math.round(loopTicksAt(found, frame) / stepTicks);
    const inBars = (step * stepTicks) / barTicks;
    const bar = Math.min(loop.bars - 1, Math.floor(inBars + 1e-9));
    const share = inBars - bar;
    const at = lines[bar]! + share * (lines[bar + 1]! - lines[bar]!);
    if (bar < 0 || Math.abs(frame - at) > reach) return [];
    return [{ frame, bar, share, weight: strength * weights[Math.round(share * (weights.length - 1))]! ** 2 }];
  });
  const byBar = range(0, loop.bars - 1).map((bar) => placed.filter((one) => one.bar === bar));
  // A line that no hit speaks for lies between its neighbours.
  const smooth = 0.5;
  for (let sweep = 0; sweep < FIT_SWEEPS; sweep++) {
    for (let line = 1; line < loop.bars; line++) {
      let sum = smooth * ((lines[line - 1]! + lines[line + 1]!) / 2);
      let total = smooth;
      for (const { frame, share, weight } of byBar[line - 1]!) {
        sum += weight * share * (frame - (1 - share) * lines[line - 1]!);
        total += weight * share * share;
      }
      for (const { frame, share, weight } of byBar[line]!) {
        sum += weight * (1 - share) * (frame - share * lines[line + 1]!);
        total += weight * (1 - share) ** 2;
      }
      lines[line] = sum / total;
    }
  }
  return lines;
}
