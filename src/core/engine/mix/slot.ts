/**
 * The place of an effect in a channel: it is brought in and taken out over a few milliseconds, so that switching it makes
 * no step in what sounds; while it is out it is not worked out.
 */
import type { EffectFragment } from '../plan/fragments.ts';
import type { Effect, StereoBus } from './effects/effect.ts';
import { makeEffect } from './effects/index.ts';

/** Frames in which an effect, or a send, comes and goes. */
export const SWITCH_FRAMES = 256;
/** What sounded before: shared, for channels are worked out one after another. */
const MOST_FRAMES = 4096;
const dryLeft = new Float32Array(MOST_FRAMES);
const dryRight = new Float32Array(MOST_FRAMES);

export class EffectSlot {
  readonly id: string;
  readonly effect: Effect;
  sideChannelId: string | null = null;
  /** What its channel's effect listens to. */
  side: { readonly given: StereoBus } | null = null;
  /** It is to leave the channel when it is out. */
  isLeaving = false;
  private bypassed = false;
  /** 0 out, 1 in. */
  private share = 0;
  private target = 0;

  constructor(fragment: EffectFragment, sampleRate: number) {
    this.id = fragment.id;
    this.effect = makeEffect(fragment.kind, fragment.values, sampleRate);
    this.take(fragment);
  }

  take({ values, bypassed, sideChannelId }: EffectFragment): void {
    values.forEach((value, slot) => this.effect.setValue(slot, value));
    this.bypassed = bypassed;
    this.sideChannelId = sideChannelId;
    this.isLeaving = false;
    this.aim(!bypassed);
  }

  /** Brings it in, unless it is bypassed, or takes it out. */
  aim(isIn: boolean): void {
    const target = isIn && !this.bypassed ? 1 : 0;
    // What it has kept from before it was out is no part of what sounds now.
    if (target === 1 && this.share === 0 && this.target === 0) this.effect.reset();
    this.target = target;
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    this.share = this.target;
  }

  get isOut(): boolean {
    return this.share === 0 && this.target === 0;
  }

  process(bus: StereoBus, count: number, frame: number): void {
    if (this.isOut) return;
    const side = this.side?.given ?? null;
    if (this.share === 1 && this.target === 1) {
      this.effect.process(bus, count, frame, side);
      return;
    }
    const { left, right } = bus;
    for (let i = 0; i < count; i++) {
      dryLeft[i] = left[i]!;
      dryRight[i] = right[i]!;
    }
    this.effect.process(bus, count, frame, side);
    const step = (this.target === 1 ? 1 : -1) / SWITCH_FRAMES;
    for (let i = 0; i < count; i++) {
      this.share = Math.max(0, Math.min(1, this.share + step));
      left[i] = dryLeft[i]! + (left[i]! - dryLeft[i]!) * this.share;
      right[i] = dryRight[i]! + (right[i]! - dryRight[i]!) * this.share;
    }
  }
}
