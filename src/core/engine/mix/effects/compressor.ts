/**
 * Presses what is loud: the static curve with a quadratic knee and the smooth, decoupled peak detector in decibels of
 * D. Giannoulis, M. Massberg and J. Reiss, "Digital dynamic range compressor design: a tutorial and analysis", JAES 60 (2012).
 */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain, gainToDb } from '../../../units/level.ts';
import { perSample } from './building/level-follower.ts';
import { OnePole } from './building/one-pole.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const COMPRESSOR = slotsOf(EFFECT_ROWS.compressor);
/** Up to this frequency nothing is cut from what it listens to. */
const NO_CUT_HZ = 20;

/** Level that leaves the curve for one that goes in, in dB. */
export function compressedDb(inDb: number, thresholdDb: number, ratio: number, kneeDb: number): number {
  const over = inDb - thresholdDb;
  if (2 * over <= -kneeDb) return inDb;
  if (2 * over > kneeDb) return thresholdDb + over / ratio;
  return inDb + ((1 / ratio - 1) * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
}

const levels = scratch();
const levelsRight = scratch();

export class CompressorEffect implements Effect {
  readonly latencyFrames = 0;
  /** Its followers have to find the level first. */
  readonly runInFrames = 4410;
  readonly restFrames = 4410;
  reading = 0;
  private loudestDb = -Infinity;
  private readonly makeUp = new Ramp();
  private readonly cuts = [new OnePole(), new OnePole()] as const;
  private cutIn = 0;
  private thresholdDb = 0;
  private ratio = 1;
  private kneeDb = 0;
  private attack = 1;
  private release = 1;
  /** What is taken away, as it falls and as it is, in dB. */
  private held = 0;
  private taken = 0;

  constructor(private readonly sampleRate: number) {}

  set(values: Float64Array): void {
    const { sampleRate } = this;
    this.thresholdDb = values[COMPRESSOR.thresholdDb]!;
    this.ratio = values[COMPRESSOR.ratio]!;
    this.kneeDb = values[COMPRESSOR.kneeDb]!;
    this.attack = perSample(values[COMPRESSOR.attackMs]!, sampleRate);
    this.release = perSample(values[COMPRESSOR.releaseMs]!, sampleRate);
    this.makeUp.aim(dbToGain(values[COMPRESSOR.makeUpDb]!));
    const hz = values[COMPRESSOR.sideHz]!;
    this.cutIn = Math.min(1, (hz - NO_CUT_HZ) / NO_CUT_HZ);
    for (const cut of this.cuts) cut.set(hz, sampleRate);
  }

  takeLevelDb(): number {
    const levelDb = this.loudestDb;
    this.loudestDb = -Infinity;
    return levelDb;
  }

  reset(): void {
    this.loudestDb = -Infinity;
    this.makeUp.reset();
    for (const cut of this.cuts) cut.reset();
    this.held = this.taken = this.reading = 0;
  }

  process({ left, right }: StereoBus, frameCount: number, _moment: Moment, side: StereoBus | null): void {
    const [cutLeft, cutRight] = this.cuts;
    const { thresholdDb, ratio, kneeDb, cutIn } = this;
    const heardLeft = side?.left ?? left;
    const heardRight = side?.right ?? right;
    for (let i = 0; i < frameCount; i++) {
      levels[i] = heardLeft[i]!;
      levelsRight[i] = heardRight[i]!;
    }
    cutLeft.runHigh(levels, frameCount, cutIn);
    cutRight.runHigh(levelsRight, frameCount, cutIn);
    for (let i = 0; i < frameCount; i++) {
      const inDb = gainToDb(Math.max(1e-6, Math.abs(levels[i]!), Math.abs(levelsRight[i]!)));
      if (inDb > this.loudestDb) this.loudestDb = inDb;
      const wanted = inDb - compressedDb(inDb, thresholdDb, ratio, kneeDb);
      this.held = Math.max(wanted, this.held + (wanted - this.held) * this.release);
      this.taken += (this.held - this.taken) * this.attack;
      const gain = dbToGain(-this.taken) * this.makeUp.next();
      left[i]! *= gain;
      right[i]! *= gain;
    }
    this.reading = this.taken;
  }
}
