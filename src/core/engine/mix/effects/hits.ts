/**
 * More or less of how hits begin, and of what rings after: by the distance, in decibels, of two followers of the level, one
 * quick and one slow. Their distance is the same for loud and soft hits.
 */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { LevelFollower, perSample } from './building/level-follower.ts';
import { Ramp } from './building/ramp.ts';
import type { Effect, StereoBus } from './effect.ts';

const HITS = slotsOf(EFFECT_ROWS.hits);
const QUICK_MS = 0.4;
/** A quick follower falls in this time, the slow one in that. */
const FALL_MS = 40;
const SLOW_FALL_MS = 400;
/** Followers that are as far apart as this, in dB, have all of what was set. */
const FULL_DB = 12;
/** Below this level nothing is a hit. */
const NOTHING = 1e-5;
/** The gain moves no faster than this, so that it makes no noise of its own; where a hit begins, which hides it, faster. */
const GAIN_MS = 0.7;
const GAIN_AT_HIT_MS = 0.1;

export class HitsEffect implements Effect {
  readonly latencyFrames = 0;
  /** Its followers have to find the level first. */
  readonly runInFrames = 4410;
  readonly restFrames = 22_050;
  private readonly quick = new LevelFollower();
  private readonly slow = new LevelFollower();
  private readonly short = new LevelFollower();
  private readonly long = new LevelFollower();
  private readonly attack = new Ramp();
  private readonly body = new Ramp();
  private readonly out = new Ramp();
  private readonly glide: number;
  private readonly glideAtHit: number;
  private gainDb = 0;

  constructor(private readonly sampleRate: number) {
    this.glide = perSample(GAIN_MS, sampleRate);
    this.glideAtHit = perSample(GAIN_AT_HIT_MS, sampleRate);
  }

  set(values: Float64Array): void {
    const { sampleRate } = this;
    this.attack.aim(values[HITS.attackDb]!);
    this.body.aim(values[HITS.bodyDb]!);
    this.out.aim(dbToGain(values[HITS.gainDb]!));
    this.quick.set(QUICK_MS, FALL_MS, sampleRate);
    this.slow.set(values[HITS.attackMs]!, FALL_MS, sampleRate);
    // They rise at once, both: where a hit begins they are no distance apart.
    this.short.set(0, FALL_MS, sampleRate);
    this.long.set(0, SLOW_FALL_MS, sampleRate);
  }

  reset(): void {
    for (const follower of [this.quick, this.slow, this.short, this.long]) follower.reset();
    for (const ramp of [this.attack, this.body, this.out]) ramp.reset();
    this.gainDb = 0;
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    for (let i = 0; i < frameCount; i++) {
      const level = Math.max(Math.abs(left[i]!), Math.abs(right[i]!));
      const isHit = level > this.quick.level;
      const rises = apart(this.quick.next(level), this.slow.next(level));
      const rings = apart(this.long.next(level), this.short.next(level));
      const wanted = this.attack.next() * rises + this.body.next() * rings;
      this.gainDb += (wanted - this.gainDb) * (isHit ? this.glideAtHit : this.glide);
      const gain = dbToGain(this.gainDb) * this.out.next();
      left[i]! *= gain;
      right[i]! *= gain;
    }
  }
}

/** How far one level is above another, of {@link FULL_DB}. */
function apart(one: number, other: number): number {
  if (one < NOTHING || one <= other) return 0;
  const db = 20 * Math.log10(one / Math.max(other, NOTHING * 0.1));
  return Math.max(0, Math.min(1, db / FULL_DB));
}
