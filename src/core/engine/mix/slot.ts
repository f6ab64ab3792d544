/**
 * The place of an effect in a channel. It is brought in and taken out over a few milliseconds, so that switching it makes no
 * step in what sounds; it is mixed with the dry sound, which waits as long as the effect takes; its settings are smoothed
 * and moved; and while nothing sounds it sleeps.
 */
import { EFFECT_ROWS, SLOT } from '../../params/effects.ts';
import { CONTROL_FRAMES } from '../control/control-step.ts';
import { OwnerValues } from '../control/owner-values.ts';
import type { EffectFragment } from '../plan/fragments.ts';
import { DelayLine } from './delay-line.ts';
import type { Effect, Moment, StereoBus } from './effects/effect.ts';
import { makeEffect } from './effects/index.ts';

/** Frames in which an effect, or a way between channels, comes and goes. */
export const SWITCH_FRAMES = 256;
/** -160 dB: what comes out below this does not sound. */
const SILENCE = 1e-8;

const stepBus = () => ({ left: new Float32Array(CONTROL_FRAMES), right: new Float32Array(CONTROL_FRAMES) });
/** Shared: effects are worked out one after another. */
const wet = stepBus();
const side = stepBus();

export class EffectSlot {
  readonly id: string;
  readonly effect: Effect;
  readonly owner: OwnerValues;
  sideChannelId: string | null = null;
  /** What its effect listens to. */
  side: { readonly given: StereoBus } | null = null;
  /** It is to leave the channel when it is out. */
  isLeaving = false;
  private bypassed = false;
  /** 0 out, 1 in. */
  private share = 0;
  private target = 0;
  /** How much is wet, what that comes to in this step, and its change from frame to frame. */
  private wet = 1;
  private wetTo = 1;
  private wetStep = 0;
  private isSet = false;
  /** Steps of silence up to this one, and whether this one is silent up to now. */
  private quietSteps = 0;
  private isQuiet = true;
  private isAsleep = false;
  private readonly dryDelay: DelayLine | null;

  constructor(fragment: EffectFragment, sampleRate: number) {
    this.id = fragment.id;
    this.effect = makeEffect(fragment.kind, sampleRate);
    this.owner = new OwnerValues(EFFECT_ROWS[fragment.kind], fragment.values, sampleRate);
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    const { latencyFrames } = this.effect;
    this.dryDelay = latencyFrames > 0 ? new DelayLine(latencyFrames) : null;
    this.take(fragment);
  }

  take({ values, bypassed, sideChannelId }: EffectFragment): void {
    this.owner.take(values);
    this.bypassed = bypassed;
    this.sideChannelId = sideChannelId;
    this.isLeaving = false;
    this.aim(!bypassed);
  }

  /** Brings it in, unless it is bypassed, or takes it out. */
  aim(isIn: boolean): void {
    const target = isIn && !this.bypassed ? 1 : 0;
    // What it has kept from before it was out is no part of what sounds now.
    if (target === 1 && this.share === 0 && this.target === 0) this.wake();
    this.target = target;
  }

  private wake(): void {
    this.effect.reset();
    this.owner.arrive();
    this.isSet = false;
    this.quietSteps = 0;
    this.isAsleep = false;
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    this.wetStep = 0;
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    this.share = this.target;
    if (!this.owner.isMoving) return;
    this.owner.arrive();
    this.isSet = false;
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    this.wetStep = 0;
  }

  get isOut(): boolean {
    return this.share === 0 && this.target === 0;
  }

  /** By how many frames what goes through comes later, whether it is in or out. */
  get latencyFrames(): number {
    return this.effect.latencyFrames;
  }

  /**
   * Works out `count` frames of a bus from `from` on, within one control step.
   * @param isStep a step begins here
   */
  process(bus: StereoBus, from: number, count: number, moment: Moment, isStep: boolean): void {
    if (isStep) this.step();
    if (this.isOut) {
      this.dryDelay?.run(bus, from, count);
      return;
    }
    const isQuietIn = isNothing(bus.left, from, count) && isNothing(bus.right, from, count);
    if (this.isAsleep) {
      if (isQuietIn) return;
      this.isAsleep = false;
      this.quietSteps = 0;
      this.effect.reset();
      this.isSet = false;
    }
    this.run(bus, from, count, moment);
    if (!isQuietIn || isLoud(wet.left, count) || isLoud(wet.right, count)) this.isQuiet = false;
    this.dryDelay?.run(bus, from, count);
    this.mix(bus.left, bus.right, from, count);
  }

  private step(): void {
    const { owner, effect } = this;
    if (owner.step()) {
      owner.fold();
      this.isSet = false;
    }
    this.wet = this.wetTo;
    this.wetTo = owner.now[SLOT.wet]!;
    this.wetStep = (this.wetTo - this.wet) / CONTROL_FRAMES;
    this.quietSteps = this.isQuiet ? this.quietSteps + 1 : 0;
    this.isQuiet = true;
    this.isAsleep = this.quietSteps * CONTROL_FRAMES > effect.restFrames + effect.latencyFrames;
  }

  private run(bus: StereoBus, from: number, count: number, moment: Moment): void {
    if (!this.isSet) this.effect.set(this.owner.now);
    this.isSet = true;
    copy(bus, from, wet, count);
    if (this.side) copy(this.side.given, from, side, count);
    this.effect.process(wet, count, moment, this.side ? side : null);
  }

  private mix(left: Float32Array, right: Float32Array, from: number, count: number): void {
    const { wetStep } = this;
    if (this.share === 1 && this.target === 1 && this.wet === 1 && wetStep === 0) {
      for (let i = 0; i < count; i++) {
        left[from + i] = wet.left[i]!;
        right[from + i] = wet.right[i]!;
      }
      return;
    }
    const shareStep = (this.target === 1 ? 1 : -1) / SWITCH_FRAMES;
    let { share, wet: much } = this;
    for (let i = 0; i < count; i++) {
      share = Math.max(0, Math.min(1, share + shareStep));
      much += wetStep;
      left[from + i]! += (wet.left[i]! - left[from + i]!) * share * much;
      right[from + i]! += (wet.right[i]! - right[from + i]!) * share * much;
    }
    this.share = share;
    this.wet = much;
  }
}

function copy(from: StereoBus, at: number, to: StereoBus, count: number): void {
  for (let i = 0; i < count; i++) {
    to.left[i] = from.left[at + i]!;
    to.right[i] = from.right[at + i]!;
  }
}

function isNothing(samples: Float32Array, from: number, count: number): boolean {
  for (let i = from; i < from + count; i++) if (samples[i] !== 0) return false;
  return true;
}

function isLoud(samples: Float32Array, count: number): boolean {
  for (let i = 0; i < count; i++) if (Math.abs(samples[i]!) > SILENCE) return true;
  return false;
}
