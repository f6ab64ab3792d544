/**
 * Gives way to another channel: by its notes, and so exactly at their frame, or by its level. Down, held, and back along a
 * bend; a hit on the way back begins from where it stands.
 */
import { bent } from '../../../dsp/bend.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain, gainToDb } from '../../../units/level.ts';
import { LevelFollower } from './building/level-follower.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const DUCKING = slotsOf(EFFECT_ROWS.ducking);
const FOLLOW_MS = [0.3, 10] as const;
const depths = scratch();

export class DuckingEffect implements Effect {
  readonly latencyFrames = 0;
  /** What was struck while nothing sounded is given way to when something does. */
  readonly restFrames = Infinity;
  readonly isPassive = true;
  /** How much is taken away, in dB. */
  reading = 0;
  private loudest = 0;
  private readonly depth = new Ramp();
  private readonly follower = new LevelFollower();
  private byLevel = false;
  private group = 0;
  private downFrames = 1;
  private holdFrames = 1;
  private returnFrames = 1;
  private bend = 0;
  private threshold = 1;
  /** Frames since the last hit; how far down it was then, and is now, 0..1. */
  private since = Infinity;
  private from = 0;
  private amount = 0;

  constructor(private readonly sampleRate: number) {
    this.follower.set(FOLLOW_MS[0], FOLLOW_MS[1], sampleRate);
  }

  set(values: Float64Array): void {
    const frames = (ms: number) => Math.max(1, Math.round((ms / 1000) * this.sampleRate));
    this.byLevel = values[DUCKING.by] === 1;
    this.group = values[DUCKING.under]!;
    this.depth.aim(values[DUCKING.depthDb]!);
    this.downFrames = frames(values[DUCKING.downMs]!);
    this.holdFrames = frames(values[DUCKING.holdMs]!);
    this.returnFrames = frames(values[DUCKING.returnMs]!);
    this.bend = values[DUCKING.bend]!;
    this.threshold = dbToGain(values[DUCKING.thresholdDb]!);
  }

  takeLevelDb(): number {
    const levelDb = gainToDb(this.loudest);
    this.loudest = 0;
    return levelDb;
  }

  reset(): void {
    this.loudest = 0;
    this.depth.reset();
    this.follower.reset();
    this.since = Infinity;
    this.from = this.amount = this.reading = 0;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment, side: StereoBus | null): void {
    this.depth.run(depths, frameCount);
    let next = this.nextHit(moment, 0, frameCount);
    for (let i = 0; i < frameCount; i++) {
      if (this.byLevel) this.listen(side?.left ?? left, side?.right ?? right, i);
      else if (i === next) {
        this.begin();
        next = this.nextHit(moment, i + 1, frameCount);
      }
      this.move();
      const level = Math.max(Math.abs(left[i]!), Math.abs(right[i]!));
      if (level > this.loudest) this.loudest = level;
      const gain = this.amount === 0 ? 1 : dbToGain(depths[i]! * this.amount);
      left[i]! *= gain;
      right[i]! *= gain;
    }
    this.reading = -depths[frameCount - 1]! * this.amount;
  }

  /** Place of the next hit among these frames; -1 for none. */
  private nextHit({ frame, hits, lateFrames }: Moment, from: number, to: number): number {
    if (!hits || this.byLevel) return -1;
    const first = frame - lateFrames;
    const found = hits.firstIn(first + from, first + to, this.group);
    return found < 0 ? -1 : found - first;
  }

  private begin(): void {
    this.from = this.amount;
    this.since = 0;
  }

  /** Loud enough it stays down, and is held from then on. */
  private listen(left: Float32Array, right: Float32Array, at: number): void {
    const isLoud = this.follower.next(Math.max(Math.abs(left[at]!), Math.abs(right[at]!))) > this.threshold;
    if (!isLoud) return;
    if (this.since > this.downFrames + this.holdFrames) this.begin();
    else if (this.since > this.downFrames) this.since = this.downFrames;
  }

  /** On by one frame. */
  private move(): void {
    if (this.since === Infinity) return;
    this.since++;
    const { since, from, downFrames, holdFrames, returnFrames } = this;
    if (since <= downFrames) this.amount = from + ((1 - from) * since) / downFrames;
    else if (since <= downFrames + holdFrames) this.amount = 1;
    else {
      const share = (since - downFrames - holdFrames) / returnFrames;
      this.amount = share >= 1 ? 0 : 1 - bent(share, this.bend);
      if (share >= 1) this.since = Infinity;
    }
  }
}
