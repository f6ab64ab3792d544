/**
 * The place of an effect in a channel. It is brought in and taken out over a few milliseconds, so that switching it makes no
 * step in what sounds; it is mixed with the dry sound, which waits as long as the effect takes; its settings are smoothed
 * and moved; and while nothing sounds it sleeps.
 */
import { EFFECT_ROWS, SLOT } from '../../params/effects.ts';
import { CONTROL_FRAMES } from '../control/control-step.ts';
import { OwnerValues } from '../control/owner-values.ts';
import type { EffectFragment } from '../plan/fragments.ts';
import type { Effect, Moment, StereoBus } from './effects/effect.ts';
import type { Hits } from './hits.ts';
import type { EffectRow } from './effect-row.ts';
import type { SignalWatch } from './signal-watch.ts';
import { Wait } from './wait.ts';

/** Frames in which an effect, or a way between channels, comes and goes. */
export const SWITCH_FRAMES = 256;
/** -160 dB: what comes out below this does not sound. */
const SILENCE = 1e-8;
/** +80 dB: what comes out above this, or is no number, is a fault of the effect. */
const NO_SOUND = 1e4;

const stepBus = () => ({ left: new Float32Array(CONTROL_FRAMES), right: new Float32Array(CONTROL_FRAMES) });
/** What a slot works on: shared, for effects are worked out one after another; one that holds others has its own. */
const workBuses = () => ({ wet: stepBus(), side: stepBus(), without: stepBus() });
const shared = workBuses();

export class EffectSlot {
  readonly id: string;
  readonly owner: OwnerValues;
  sideChannelId: string | null = null;
  /** What its effect listens to. */
  side: { readonly given: StereoBus } | null = null;
  /** What is struck there, or in its own channel; by how many frames what comes in here is later than that. */
  hits: Hits | null = null;
  lateFrames = 0;
  /** It is to leave the channel when it is out. */
  isLeaving = false;
  /** Who looks at what goes in and comes out. */
  watch: SignalWatch | null = null;
  /** How often what came out was no sound, and was silenced. */
  troubleCount = 0;
  private readonly bypassed = { share: 0, target: 0 };
  /** Whether it stands in the channel at all: where it does not, the sound comes no later for it. */
  private readonly presence = { share: 0, target: 0 };
  /** Frames that it is fed before it is let in, and how much of the sound it is fed: an edge would come back as an echo. */
  private runInLeft = 0;
  private readonly fed = { share: 1, target: 1 };
  /** Falls to nothing and comes back, when all sound is to be off. */
  private readonly hushed = { share: 1, target: 1 };
  /** How much is wet, what that comes to in this step, and its change from frame to frame. */
  private wet = 1;
  private wetTo = 1;
  private wetStep = 0;
  private isSet = false;
  /** Steps of silence up to this one, and whether this one is silent up to now. */
  private quietSteps = 0;
  private isQuiet = true;
  private isAsleep = false;
  /** Nothing has gone in since it was made or came in: it may sleep, however long it rings, to wake as it is set then. */
  private isFresh = true;
  private loudestOut = 0;
  private readonly work: ReturnType<typeof workBuses>;
  /** The dry sound waits as long as the effect takes. */
  private readonly dry = new Wait();

  constructor(
    fragment: EffectFragment,
    readonly effect: Effect,
    sampleRate: number,
    /** Rows of effects that its effect holds. */
    readonly rows: readonly EffectRow<EffectSlot>[] = [],
  ) {
    this.work = rows.length > 0 ? workBuses() : shared;
    this.id = fragment.id;
    this.owner = new OwnerValues(EFFECT_ROWS[fragment.kind], fragment.values, sampleRate);
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    this.take(fragment);
    this.bypassed.share = this.bypassed.target;
  }

  take({ values, bypassed, sideChannelId, paths = [] }: EffectFragment): void {
    this.owner.take(values);
    this.effect.takePaths?.(paths);
    this.dry.aim(this.effect.latencyFrames, this.isAtRest);
    this.sideChannelId = sideChannelId;
    this.isLeaving = false;
    const target = bypassed ? 0 : 1;
    // What it has kept from before it was out is no part of what sounds now.
    if (target === 1 && this.isBypassed) this.wake(true);
    this.bypassed.target = target;
    this.enter(true);
  }

  /**
   * Brings it into the channel, or takes it out.
   * @param keepsSound it was there until now, in another place: what rings in it rings on
   */
  enter(isIn: boolean, keepsSound = false): void {
    if (isIn && this.isOut) {
      this.wake(!keepsSound);
      this.dry.reset();
      this.bypassed.share = this.bypassed.target;
    }
    this.presence.target = isIn ? 1 : 0;
    this.fed.target = isIn && this.bypassed.target === 1 ? 1 : 0;
  }

  private wake(isNew: boolean): void {
    if (isNew) this.effect.reset();
    this.isFresh = isNew;
    this.fed.share = 0;
    this.owner.arrive();
    this.isSet = false;
    this.quietSteps = 0;
    this.isAsleep = false;
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    this.wetStep = 0;
    this.runInLeft = this.effect.runInFrames ?? this.effect.latencyFrames;
  }

  /** As new, and in at once: with what it is a part of it begins anew. */
  restart(): void {
    this.wake(true);
    this.dry.reset();
    this.arrive();
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    this.bypassed.share = this.bypassed.target;
    this.presence.share = this.presence.target;
    this.fed.share = this.fed.target;
    this.runInLeft = 0;
    this.dry.arrive();
    for (let r = 0; r < this.rows.length; r++) this.rows[r]!.arrive();
    this.isAsleep ||= this.isFresh && !this.listens;
    if (!this.owner.isMoving) return;
    this.owner.arrive();
    this.isSet = false;
    this.wet = this.wetTo = this.owner.now[SLOT.wet]!;
    this.wetStep = 0;
  }

  /** It stands in the channel no more: the sound is as it would be without it. */
  get isOut(): boolean {
    return this.presence.share === 0 && this.presence.target === 0;
  }

  /** Nothing sounds in it, and nothing will of itself. */
  get isAtRest(): boolean {
    if (this.isOut || this.isBypassed || this.isAsleep) return true;
    return this.effect.isPassive === true && this.quietSteps > 0;
  }

  /** It sleeps, and nothing of it is on its way: as long as nothing goes in, each step would leave it as it is. */
  get isStill(): boolean {
    const { bypassed, presence, hushed, owner } = this;
    if (this.watch || owner.isMoving || bypassed.share !== bypassed.target || presence.share !== presence.target)
      return false;
    if (this.isOut) return !this.isLeaving;
    // Where it is bypassed the sound is still on its way through the wait.
    const isDone = this.isBypassed ? this.latencyFrames === 0 : this.isAsleep && !(this.isFresh && this.listens);
    return isDone && hushed.target === 1 && this.wet === this.wetTo;
  }

  /** It hears others while nothing goes in. */
  get listens(): boolean {
    for (let r = 0; r < this.rows.length; r++) if (this.rows[r]!.listens) return true;
    return this.side !== null || (this.rows.length === 0 && this.effect.isPassive === true);
  }

  /** What rings in it falls silent, in a few milliseconds. */
  hush(): void {
    this.hushed.target = 0;
  }

  private get isBypassed(): boolean {
    return this.bypassed.share === 0 && this.bypassed.target === 0;
  }

  /** By how many frames what goes through comes later, bypassed or not. */
  get latencyFrames(): number {
    return this.effect.latencyFrames;
  }

  /**
   * Works out `count` frames of a bus from `from` on, within one control step.
   */
  process(bus: StereoBus, from: number, count: number, moment: Moment): void {
    if (moment.isStep) this.step();
    if (this.isOut) return;
    const { without } = this.work;
    this.watch?.expect(bus, from, count);
    const isComing = this.presence.share !== 1 || this.presence.target !== 1;
    if (isComing) copy(bus, from, without, count);
    this.through(bus, from, count, moment);
    if (isComing) this.mixPresence(bus, from, count);
    this.watch?.see(bus, from, count);
    this.runInLeft = Math.max(0, this.runInLeft - count);
  }

  private through(bus: StereoBus, from: number, count: number, moment: Moment): void {
    if (this.isBypassed) {
      this.dry.run(bus, from, count);
      return;
    }
    const isQuietIn = isNothing(bus.left, from, count) && isNothing(bus.right, from, count);
    if (this.isAsleep) {
      if (isQuietIn) return;
      this.isAsleep = this.isFresh = false;
      this.quietSteps = 0;
      this.effect.reset();
      this.isSet = false;
    }
    this.isFresh &&= isQuietIn;
    this.run(bus, from, count, moment);
    if (!isQuietIn || this.loudestOut > SILENCE) this.isQuiet = false;
    this.dry.run(bus, from, count);
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
    const isRestful = this.quietSteps * CONTROL_FRAMES > effect.restFrames + effect.latencyFrames;
    this.isAsleep = isRestful || (this.isAsleep && this.isFresh && !this.listens);
  }

  private run(bus: StereoBus, from: number, count: number, moment: Moment): void {
    const { wet, side } = this.work;
    if (!this.isSet) this.effect.set(this.owner.now);
    this.isSet = true;
    copy(bus, from, wet, count);
    if (this.fed.share !== 1 || this.fed.target !== 1) this.feed(count);
    if (this.side) copy(this.side.given, from, side, count);
    moment.hits = this.hits;
    moment.lateFrames = this.lateFrames;
    this.effect.process(wet, count, moment, this.side ? side : null);
    if (this.hushed.target === 0) this.fall(count);
    // Written so that what is no number is caught, too.
    this.loudestOut = loudest(wet, count);
    if (this.loudestOut < NO_SOUND) return;
    this.loudestOut = 0;
    wet.left.fill(0, 0, count);
    wet.right.fill(0, 0, count);
    this.effect.reset();
    this.isSet = false;
    this.troubleCount++;
  }

  private feed(count: number): void {
    const { fed } = this;
    const { wet } = this.work;
    for (let i = 0; i < count; i++) {
      fed.share = stepped(fed.share, fed.target);
      wet.left[i]! *= fed.share;
      wet.right[i]! *= fed.share;
    }
  }

  private fall(count: number): void {
    const { hushed } = this;
    const { wet } = this.work;
    for (let i = 0; i < count; i++) {
      hushed.share = stepped(hushed.share, 0);
      wet.left[i]! *= hushed.share;
      wet.right[i]! *= hushed.share;
    }
    if (hushed.share > 0) return;
    this.effect.reset();
    this.isSet = false;
    hushed.share = hushed.target = 1;
  }

  private mix(left: Float32Array, right: Float32Array, from: number, count: number): void {
    const { wetStep, bypassed } = this;
    const { wet } = this.work;
    if (bypassed.share === 1 && bypassed.target === 1 && this.wet === 1 && wetStep === 0) {
      for (let i = 0; i < count; i++) {
        left[from + i] = wet.left[i]!;
        right[from + i] = wet.right[i]!;
      }
      return;
    }
    let much = this.wet;
    for (let i = 0; i < count; i++) {
      const share = this.next(bypassed, i);
      much += wetStep;
      left[from + i]! += (wet.left[i]! - left[from + i]!) * share * much;
      right[from + i]! += (wet.right[i]! - right[from + i]!) * share * much;
    }
    this.wet = much;
  }

  private mixPresence({ left, right }: StereoBus, from: number, count: number): void {
    const { without } = this.work;
    for (let i = 0; i < count; i++) {
      const share = this.next(this.presence, i);
      left[from + i] = without.left[i]! + (left[from + i]! - without.left[i]!) * share;
      right[from + i] = without.right[i]! + (right[from + i]! - without.right[i]!) * share;
    }
  }

  /** One frame on; not up before it has run in. */
  private next(one: { share: number; target: number }, offset: number): number {
    if (one.target === 0 || offset >= this.runInLeft) one.share = stepped(one.share, one.target);
    return one.share;
  }
}

/** One frame's step from 0 to 1 or back. */
export function stepped(from: number, to: number): number {
  return to > from ? Math.min(to, from + 1 / SWITCH_FRAMES) : Math.max(to, from - 1 / SWITCH_FRAMES);
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

function loudest({ left, right }: StereoBus, count: number): number {
  let most = 0;
  let isNumber = true;
  for (let i = 0; i < count; i++) {
    const l = Math.abs(left[i]!);
    const r = Math.abs(right[i]!);
    if (l > most) most = l;
    if (r > most) most = r;
    // What is no number is not greater or less.
    isNumber &&= l + r >= 0;
  }
  return isNumber ? most : Infinity;
}
