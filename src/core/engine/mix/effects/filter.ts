/**
 * A filter over a channel: of two to eight poles, clean or as a ladder that is driven in its loop, alone or two of them,
 * and moved by the level of what it hears.
 */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { FilterWay, type FilterWaySettings } from './building/filter-way.ts';
import { LevelFollower } from './building/level-follower.ts';
import { Ways } from './building/ramp.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const FILTER = slotsOf(EFFECT_ROWS.filter);
/** Frames between two looks at the level. */
const FOLLOW_FRAMES = 8;
/** Level at which it is moved all the way, at sensitivity 0 and 1, in dB. */
const FULL_AT_DB = [0, -36] as const;

export class FilterEffect implements Effect {
  readonly latencyFrames = 0;
  /** A filter that is as quiet as that has no more in it than rounding. */
  readonly restFrames = 22_050;
  /** How far the level moves it, in octaves. */
  reading = 0;
  private readonly follower = new LevelFollower();
  /** Two, so that another shape comes in over what sounds. */
  private readonly ways: readonly [FilterWay, FilterWay];
  private readonly shares = new Ways(2);
  private current = 0;
  private readonly settings: FilterWaySettings = {
    shape: 0,
    slope: 1,
    isLadder: false,
    second: 0,
    cutoffHz: 1000,
    resonance: 0,
    apartCents: 0,
    driveDb: 0,
  };
  private isSet = false;
  /** Something was set since it has followed. */
  private isOther = true;
  private followOctaves = 0;
  private fullAt = 1;
  private readonly old = { left: new Float32Array(32), right: new Float32Array(32) };

  constructor(private readonly sampleRate: number) {
    this.ways = [new FilterWay(sampleRate), new FilterWay(sampleRate)];
  }

  set(values: Float64Array): void {
    const { settings } = this;
    const [shape, slope] = [values[FILTER.shape]!, values[FILTER.slope]!];
    const [isLadder, second] = [values[FILTER.circuit] === 1, values[FILTER.second]!];
    const isOther =
      shape !== settings.shape ||
      slope !== settings.slope ||
      isLadder !== settings.isLadder ||
      second !== settings.second;
    if (isOther && this.isSet && this.shares.only >= 0) {
      this.current = 1 - this.current;
      this.ways[this.current]!.reset();
    }
    settings.shape = shape;
    settings.slope = slope;
    settings.isLadder = isLadder;
    settings.second = second;
    settings.cutoffHz = values[FILTER.cutoffHz]!;
    settings.resonance = values[FILTER.resonance]!;
    settings.apartCents = values[FILTER.apartCents]!;
    settings.driveDb = values[FILTER.driveDb]!;
    this.shares.aim(this.current);
    this.isSet = true;
    this.followOctaves = values[FILTER.followOctaves]!;
    const sensitivity = values[FILTER.sensitivity]!;
    this.fullAt = 10 ** ((FULL_AT_DB[0] + (FULL_AT_DB[1] - FULL_AT_DB[0]) * sensitivity) / 20);
    this.follower.set(values[FILTER.attackMs]!, values[FILTER.releaseMs]!, this.sampleRate);
    this.ways[this.current]!.set(settings, 0);
    this.isOther = true;
  }

  reset(): void {
    this.follower.reset();
    this.shares.reset();
    for (const way of this.ways) way.reset();
    this.current = this.reading = 0;
    this.isSet = false;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment, side: StereoBus | null): void {
    if (this.followOctaves !== 0) {
      this.follow(side?.left ?? left, side?.right ?? right, left, right, frameCount, moment);
      return;
    }
    this.reading = 0;
    this.run(left, right, frameCount);
  }

  /** Sample by sample, for the level is another at each; the filter follows on a grid of its own. */
  private follow(
    heardLeft: Float32Array,
    heardRight: Float32Array,
    left: Float32Array,
    right: Float32Array,
    frameCount: number,
    moment: Moment,
  ): void {
    for (let i = 0; i < frameCount; i++) {
      const level = this.follower.next(Math.max(Math.abs(heardLeft[i]!), Math.abs(heardRight[i]!)));
      if ((moment.frame + i) % FOLLOW_FRAMES === 0 || this.isOther) {
        this.reading = this.followOctaves * Math.min(1, level / this.fullAt);
        this.ways[this.current]!.set(this.settings, this.reading);
        this.isOther = false;
      }
      one.left[0] = left[i]!;
      one.right[0] = right[i]!;
      this.run(one.left, one.right, 1);
      left[i] = one.left[0]!;
      right[i] = one.right[0]!;
    }
  }

  private run(left: Float32Array, right: Float32Array, count: number): void {
    const { shares, ways, current, old } = this;
    const way = ways[current]!;
    if (shares.only >= 0) {
      way.process(left, right, count);
      return;
    }
    for (let i = 0; i < count; i++) {
      old.left[i] = left[i]!;
      old.right[i] = right[i]!;
    }
    ways[1 - current]!.process(old.left, old.right, count);
    way.process(left, right, count);
    for (let i = 0; i < count; i++) {
      shares.next();
      const share = shares.shares[current]!;
      left[i] = old.left[i]! + (left[i]! - old.left[i]!) * share;
      right[i] = old.right[i]! + (right[i]! - old.right[i]!) * share;
    }
  }
}

/** Shared: effects are worked out one after another. */
const one = { left: new Float32Array(1), right: new Float32Array(1) };
