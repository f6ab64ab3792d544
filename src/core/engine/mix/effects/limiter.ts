/**
 * Keeps true peaks below a ceiling. It looks ahead: the gain that a peak needs is held over the window and smoothed by the
 * mean of that window, so that it has been reached, without a corner, when the peak comes. Peaks between samples are found
 * at four times the rate (ITU-R BS.1770-5, annex 2).
 */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain, gainToDb } from '../../../units/level.ts';
import { perSample } from './building/level-follower.ts';
import { PeakBetween } from './building/peak-between.ts';
import { Ramp } from './building/ramp.ts';
import { RunningLoudness } from './building/running-loudness.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, StereoBus } from './effect.ts';
import { DelayLine } from '../delay-line.ts';

const LIMITER = slotsOf(EFFECT_ROWS.limiter);
/** The window whose mean is taken. */
const MEAN_FRAMES = 72;
/** A gain is held a little longer: what lies between samples hangs on those beside it. */
const BESIDE_FRAMES = 2;
const HOLD_FRAMES = MEAN_FRAMES + 2 * BESIDE_FRAMES;
/** What lies between the means of the gain, and between the four looks a sample, in dB. */
const MARGIN = dbToGain(-0.1);

const gains = scratch();
const ceilings = scratch();
const found = scratch();

export class LimiterEffect implements Effect {
  readonly latencyFrames = MEAN_FRAMES - 1 + BESIDE_FRAMES + PeakBetween.DELAY_FRAMES;
  readonly restFrames = 4410;
  /** What is taken away, in dB. */
  reading = 0;
  private readonly loudness: RunningLoudness;
  private loudest = 0;
  private readonly input = new Ramp();
  private readonly ceiling = new Ramp();
  private readonly peaks = [new PeakBetween(), new PeakBetween()] as const;
  private readonly delay = new DelayLine(this.latencyFrames);
  /** Gains that were needed, and those of the window as they are held. */
  private readonly needed = new Float64Array(HOLD_FRAMES).fill(1);
  private readonly held = new Float64Array(MEAN_FRAMES).fill(1);
  private neededAt = 0;
  private heldAt = 0;
  private sum = MEAN_FRAMES;
  /** The least gain that is needed within the window, and the one that is on its way up from it. */
  private least = 1;
  private rising = 1;
  private release = 1;

  constructor(private readonly sampleRate: number) {
    this.loudness = new RunningLoudness(sampleRate);
  }

  get loudnessLufs(): number {
    return this.loudness.lufs;
  }

  takeLevelDb(): number {
    const levelDb = gainToDb(this.loudest);
    this.loudest = 0;
    return levelDb;
  }

  set(values: Float64Array): void {
    this.input.aim(dbToGain(values[LIMITER.inputDb]!));
    this.ceiling.aim(dbToGain(values[LIMITER.ceilingDb]!));
    this.release = perSample(values[LIMITER.releaseMs]!, this.sampleRate);
  }

  reset(): void {
    this.input.reset();
    this.loudness.reset();
    this.loudest = 0;
    this.ceiling.reset();
    for (const peak of this.peaks) peak.reset();
    this.delay.reset();
    this.needed.fill(1);
    this.held.fill(1);
    this.sum = MEAN_FRAMES;
    this.least = this.rising = 1;
    this.neededAt = this.heldAt = this.reading = 0;
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    this.input.run(gains, frameCount);
    this.ceiling.run(ceilings, frameCount);
    for (let i = 0; i < frameCount; i++) {
      left[i]! *= gains[i]!;
      right[i]! *= gains[i]!;
    }
    found.fill(0, 0, frameCount);
    const floor = MARGIN * Math.min(ceilings[0]!, ceilings[frameCount - 1]!);
    this.peaks[0].run(left, found, frameCount, floor);
    this.peaks[1].run(right, found, frameCount, floor);
    for (let i = 0; i < frameCount; i++) if (found[i]! > this.loudest) this.loudest = found[i]!;
    this.findGains(frameCount);
    for (let i = 0; i < frameCount; i++) {
      this.delay.exchange(left, right, i);
      left[i]! *= gains[i]!;
      right[i]! *= gains[i]!;
    }
    this.loudness.run(left, right, frameCount);
    this.reading = -gainToDb(gains[frameCount - 1]!);
  }

  /** The gains of now, when those peaks go in. */
  private findGains(count: number): void {
    const { needed, held, release } = this;
    let { least, rising, sum } = this;
    for (let i = 0; i < count; i++) {
      const ceiling = ceilings[i]! * MARGIN;
      const now = found[i]! > ceiling ? ceiling / found[i]! : 1;
      const gone = needed[this.neededAt]!;
      needed[this.neededAt] = now;
      this.neededAt = this.neededAt + 1 === HOLD_FRAMES ? 0 : this.neededAt + 1;
      if (now <= least) least = now;
      else if (gone <= least) {
        least = 1;
        for (let n = 0; n < HOLD_FRAMES; n++) if (needed[n]! < least) least = needed[n]!;
      }
      // Down at once, up in its own time.
      rising = least < rising ? least : rising + (least - rising) * release;
      sum += rising - held[this.heldAt]!;
      held[this.heldAt] = rising;
      this.heldAt = this.heldAt + 1 === MEAN_FRAMES ? 0 : this.heldAt + 1;
      // Added up anew each round: sums of differences drift.
      if (this.heldAt === 0) {
        sum = 0;
        for (let n = 0; n < MEAN_FRAMES; n++) sum += held[n]!;
      }
      gains[i] = sum / MEAN_FRAMES;
    }
    this.least = least;
    this.rising = rising;
    this.sum = sum;
  }
}
