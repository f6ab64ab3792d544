/** A way from a channel to another one, or out: it opens, closes and changes its level without a step, and waits for others. */
import { SEND_ROWS } from '../../params/tables.ts';
import { slotsOf } from '../../params/row.ts';
import { dbToGain } from '../../units/level.ts';
import { CONTROL_FRAMES } from '../control/control-step.ts';
import { OwnerValues } from '../control/owner-values.ts';
import type { SendFragment } from '../plan/fragments.ts';
import type { StereoBus } from './effects/effect.ts';
import { stepped } from './slot.ts';
import { Wait } from './wait.ts';

export const SEND = slotsOf(SEND_ROWS);
const carried = { left: new Float32Array(CONTROL_FRAMES), right: new Float32Array(CONTROL_FRAMES) };

export class Way {
  /** Null: out. */
  to: StereoBus | null = null;
  isLeaving = false;
  /** 0 shut, 1 open. */
  private share = 0;
  private target = 0;
  private gain = 1;
  private gainTo = 1;
  private gainStep = 0;
  private readonly waiting = new Wait();

  /** @param owner the settings of a send; null for where a channel is led */
  constructor(
    readonly toId: string | null,
    readonly owner: OwnerValues | null = null,
    /** Of a send. */
    readonly id = '',
  ) {
    this.gain = this.gainTo = this.wantedGain;
  }

  private get wantedGain(): number {
    return this.owner ? dbToGain(this.owner.now[SEND.gainDb]!) : 1;
  }

  aim(isOpen: boolean): void {
    this.target = isOpen && !this.isLeaving ? 1 : 0;
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    this.share = this.target;
    this.waiting.arrive();
    this.owner?.arrive();
    this.gain = this.gainTo = this.wantedGain;
    this.gainStep = 0;
  }

  get isGone(): boolean {
    return this.isLeaving && this.share === 0;
  }

  /** Is the signal taken before the level of its channel? */
  get isBefore(): boolean {
    return this.owner?.now[SEND.tap] === 1;
  }

  /**
   * Lets it come so much later, so that it meets what takes longer.
   * @param isQuiet nothing sounds in its channel
   */
  wait(frames: number, isQuiet: boolean): void {
    this.waiting.aim(frames, isQuiet);
  }

  /** Is it all open, at the level it came with, with nothing on its way? */
  private get isPlain(): boolean {
    return !this.waiting.isNeeded && this.share === 1 && this.target === 1 && this.gain === 1 && this.gainStep === 0;
  }

  /** Will it be another in the next step? */
  get isMoving(): boolean {
    const isLevelMoving = this.gainStep !== 0 || (this.owner?.isMoving ?? false);
    return this.share !== this.target || isLevelMoving || this.waiting.isNeeded;
  }

  private step(): void {
    const { owner } = this;
    if (!owner) return;
    this.gain = this.gainTo;
    this.gainStep = 0;
    if (!owner.step()) return;
    owner.fold();
    this.gainTo = this.wantedGain;
    this.gainStep = (this.gainTo - this.gain) / CONTROL_FRAMES;
  }

  /** Adds `count` frames of a signal to where it leads, of a control step at most where something moves. */
  carry(signal: StereoBus, from: number, count: number, to: StereoBus, toFrom: number, isStep: boolean): void {
    if (isStep) this.step();
    if (this.share === 0 && this.target === 0 && !this.waiting.isNeeded) return;
    const { left, right } = to;
    if (this.isPlain) {
      const { left: fromLeft, right: fromRight } = signal;
      for (let i = 0; i < count; i++) {
        left[toFrom + i]! += fromLeft[from + i]!;
        right[toFrom + i]! += fromRight[from + i]!;
      }
      return;
    }
    const isLate = this.waiting.isNeeded;
    if (isLate) this.waiting.carry(signal, from, count, carried, 0);
    const { left: l, right: r } = isLate ? carried : signal;
    const at = isLate ? 0 : from;
    const { target, gainStep } = this;
    let { share, gain } = this;
    for (let i = 0; i < count; i++) {
      if (share !== target) share = stepped(share, target);
      gain += gainStep;
      left[toFrom + i]! += l[at + i]! * share * gain;
      right[toFrom + i]! += r[at + i]! * share * gain;
    }
    this.share = share;
    this.gain = gain;
  }
}

/** The way of a send. */
export function sendWay({ id, toChannelId, values }: SendFragment, sampleRate: number): Way {
  return new Way(toChannelId, new OwnerValues(SEND_ROWS, values, sampleRate), id);
}
