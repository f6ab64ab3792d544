/**
 * Bends the wave, at four times the rate and by the mean of the bend between samples, so that what is made above half the
 * rate does not fold back (J. Parker, V. Zavalishin and E. Le Bivic, "Reducing the aliasing of nonlinear waveshaping using
 * continuous-time convolution", DAFx-16).
 */
import { Oversampler } from '../../../dsp/oversample.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { OnePole } from './building/one-pole.ts';
import { Ramp, Ways } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import { bendPairs } from './building/bend-pairs.ts';
import { BEND_COUNT, bentMean, bentSum, meanLevel } from './building/bends.ts';
import type { Effect, StereoBus } from './effect.ts';

const DRIVE = slotsOf(EFFECT_ROWS.drive);
/** Where the tone before turns. */
const TILT_HZ = 700;
/** What one side bent alone leaves at 0 Hz goes. */
const DC_HZ = 6;

const lows = scratch();
const lowsRight = scratch();

/** One side. */
class DriveSide {
  readonly tilt = new OnePole();
  readonly tone = new OnePole();
  readonly dc = new OnePole();

  reset(): void {
    this.tilt.reset();
    this.tone.reset();
    this.dc.reset();
  }
}

export class DriveEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 8820;
  private readonly sides = [new DriveSide(), new DriveSide()] as const;
  private readonly over = new Oversampler();
  private readonly bends = new Ways(BEND_COUNT);
  private readonly gains = { low: new Ramp(), high: new Ramp(), out: new Ramp() };
  private readonly outs = new Float64Array(32);
  /** The last pair at the higher rate, and the integrals of the bend there; of which bend. */
  private readonly last = new Float64Array(4);
  private lastWay = -1;
  private readonly bend = (pairs: Float64Array, count: number): void => {
    const { last } = this;
    const way = this.bends.only;
    if (way < 0) {
      this.bendBoth(pairs, count);
      return;
    }
    if (this.lastWay !== way) for (let side = 0; side < 2; side++) last[2 + side] = bentSum(way, last[side]!);
    bendPairs(way, last, count);
    this.lastWay = way;
  };

  constructor(private readonly sampleRate: number) {}

  set(values: Float64Array): void {
    const { gains, sampleRate } = this;
    const drive = dbToGain(values[DRIVE.driveDb]!);
    const tilt = dbToGain(values[DRIVE.tiltDb]! / 2);
    const shape = values[DRIVE.shape]!;
    const made = values[DRIVE.isMadeUp] ? 1 / meanLevel(shape, drive) : 1;
    this.bends.aim(shape);
    gains.low.aim(drive / tilt);
    gains.high.aim(drive * tilt);
    gains.out.aim(made * dbToGain(values[DRIVE.gainDb]!));
    for (const side of this.sides) {
      side.tilt.set(TILT_HZ, sampleRate);
      side.tone.set(values[DRIVE.toneHz]!, sampleRate);
      side.dc.set(DC_HZ, sampleRate);
    }
  }

  reset(): void {
    this.bends.reset();
    for (const side of this.sides) side.reset();
    this.over.reset();
    this.last.fill(0);
    this.lastWay = -1;
    for (const ramp of Object.values(this.gains)) ramp.reset();
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    const { gains, outs } = this;
    const [first, second] = this.sides;
    for (let i = 0; i < frameCount; i++) {
      lows[i] = left[i]!;
      lowsRight[i] = right[i]!;
    }
    first.tilt.runLow(lows, frameCount);
    second.tilt.runLow(lowsRight, frameCount);
    for (let i = 0; i < frameCount; i++) {
      const low = gains.low.next();
      const high = gains.high.next();
      outs[i] = gains.out.next();
      left[i] = lows[i]! * low + (left[i]! - lows[i]!) * high;
      right[i] = lowsRight[i]! * low + (right[i]! - lowsRight[i]!) * high;
    }
    if (this.bends.only >= 0) this.over.process(left, right, 0, frameCount, this.bend);
    else {
      for (let i = 0; i < frameCount; i++) {
        this.bends.next();
        this.over.process(left, right, i, 1, this.bend);
      }
    }
    this.finish(first, left, frameCount);
    this.finish(second, right, frameCount);
  }

  private finish({ dc, tone }: DriveSide, samples: Float32Array, count: number): void {
    dc.runHigh(samples, count);
    tone.runLow(samples, count);
    for (let i = 0; i < count; i++) samples[i]! *= this.outs[i]!;
  }

  /** One bend gives way to another. */
  private bendBoth(pairs: Float64Array, count: number): void {
    const { last } = this;
    const { shares } = this.bends;
    for (let i = 0; i < 2 * count; i++) {
      const side = i & 1;
      const x = pairs[i]!;
      let mixed = 0;
      for (let way = 0; way < BEND_COUNT; way++) {
        if (shares[way]! === 0) continue;
        mixed += shares[way]! * bentMean(way, last[side]!, x, bentSum(way, last[side]!), bentSum(way, x));
      }
      pairs[i] = mixed;
      last[side] = x;
    }
    this.lastWay = -1;
  }
}
