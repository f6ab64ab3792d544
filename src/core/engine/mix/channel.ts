/** A channel of the mix: where voices meet, its effects, its level (smoothed so that turning it makes no noise), its meter. */
import { slotsOf } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import type { ChannelFragment, EffectFragment } from '../plan/fragments.ts';
import type { StereoBus } from './effects/effect.ts';
import { EffectSlot, SWITCH_FRAMES } from './slot.ts';

export const CHANNEL = slotsOf(CHANNEL_ROWS);
/** Frames in which a new level is reached. */
const RAMP_FRAMES = 256;
/** -120 dB: what effects still ring with long after. */
const INAUDIBLE = 1e-6;
/** Most frames that are rendered at once. */
export const MAX_SEGMENT_FRAMES = 4096;

interface Send {
  channelId: string;
  gain: number;
  target: number;
  step: number;
  to: ChannelState | null;
}

export class ChannelState implements StereoBus {
  readonly left = new Float32Array(MAX_SEGMENT_FRAMES);
  readonly right = new Float32Array(MAX_SEGMENT_FRAMES);
  /** What it gives, effects and level included: for those that listen to it. */
  readonly given = { left: new Float32Array(MAX_SEGMENT_FRAMES), right: new Float32Array(MAX_SEGMENT_FRAMES) };
  readonly id: string;
  values: Float64Array;
  /** Loudest sample since it was last read and cleared. */
  peak = 0;
  effects: EffectSlot[] = [];
  /** Another order, which is taken when all effects are out. */
  private nextEffects: EffectSlot[] | null = null;
  sends: Send[] = [];
  private isHeard = true;
  /** Is it heard by itself, or only by where it sends to? */
  private isDirect = true;
  /** Whether there was anything to hear, mute and level apart, in the last frames. */
  private isSounding = false;
  private gainLeft = 0;
  private gainRight = 0;
  private targetLeft = 0;
  private targetRight = 0;
  private stepLeft = 0;
  private stepRight = 0;
  private rampLeft = 0;
  /** How much of it is heard by itself. */
  private direct = 1;

  constructor(
    fragment: ChannelFragment,
    private readonly sampleRate: number,
  ) {
    this.id = fragment.id;
    this.values = fragment.values.slice();
    this.take(fragment);
    this.arrive();
  }

  /** Takes a new fragment; effects that stay keep their sound, and what comes, goes or moves does so without a step. */
  take(fragment: ChannelFragment): void {
    this.values = fragment.values.slice();
    this.isHeard = fragment.isHeard;
    this.isDirect = fragment.isDirect;
    this.takeEffects(fragment.effects);
    this.takeSends(fragment.sends);
    this.aim();
    if (!this.isSounding) this.settle();
  }

  private takeEffects(fragments: readonly EffectFragment[]): void {
    const known = new Map([...this.effects, ...(this.nextEffects ?? [])].map((slot) => [slot.id, slot]));
    const wanted = fragments.map((fragment) => {
      const slot = known.get(fragment.id) ?? new EffectSlot(fragment, this.sampleRate);
      slot.take(fragment);
      return slot;
    });
    const staying = this.effects.filter((slot) => wanted.includes(slot));
    const isSameOrder = staying.every((slot, index) => wanted.filter((one) => staying.includes(one))[index] === slot);
    if (!isSameOrder) {
      this.nextEffects = wanted;
      for (const slot of this.effects) slot.aim(false);
      return;
    }
    this.nextEffects = null;
    // What goes stays in its place until it is out.
    const merged = [...wanted];
    this.effects.forEach((slot, place) => {
      if (wanted.includes(slot)) return;
      slot.isLeaving = true;
      slot.aim(false);
      merged.splice(Math.min(place, merged.length), 0, slot);
    });
    this.effects = merged;
  }

  private takeSends(wanted: ChannelFragment['sends']): void {
    const aimed = (send: Send, target: number): Send => {
      send.target = target;
      send.step = (target - send.gain) / SWITCH_FRAMES;
      return send;
    };
    const sends = wanted.map(({ channelId, gain }) => {
      const known = this.sends.find((send) => send.channelId === channelId);
      return aimed(known ?? { channelId, gain: 0, target: 0, step: 0, to: null }, gain);
    });
    const leaving = this.sends.filter((send) => !sends.includes(send)).map((send) => aimed(send, 0));
    this.sends = [...sends, ...leaving];
  }

  /** Nothing sounds that could make a step: all is as it is to be. */
  private settle(): void {
    if (this.nextEffects) {
      this.effects = this.nextEffects;
      this.nextEffects = null;
      for (const slot of this.effects) slot.aim(true);
    }
    for (const slot of this.effects) slot.arrive();
    dropWhere(this.effects, isGone);
    for (let s = 0; s < this.sends.length; s++) this.sends[s]!.gain = this.sends[s]!.target;
    dropWhere(this.sends, isSilent);
  }

  /** The slot of an effect, wherever it stands. */
  slotOf(id: string): EffectSlot | null {
    return this.effects.find((slot) => slot.id === id) ?? this.nextEffects?.find((slot) => slot.id === id) ?? null;
  }

  /** Effects that sound, or are about to. */
  get allEffects(): readonly EffectSlot[] {
    return this.nextEffects ? [...this.effects, ...this.nextEffects] : this.effects;
  }

  setValue(slot: number, value: number): void {
    this.values[slot] = value;
    this.aim();
  }

  private arrive(): void {
    this.gainLeft = this.targetLeft;
    this.gainRight = this.targetRight;
    this.rampLeft = 0;
    this.direct = this.isDirect ? 1 : 0;
  }

  private aim(): void {
    const gain = this.isHeard ? dbToGain(this.values[CHANNEL.gainDb]!) : 0;
    const left = gain * panLeftGain(this.values[CHANNEL.pan]!);
    const right = gain * panRightGain(this.values[CHANNEL.pan]!);
    if (left === this.targetLeft && right === this.targetRight) return;
    this.targetLeft = left;
    this.targetRight = right;
    // What makes no sound can make no noise: its next sound begins where it should be.
    if (!this.isSounding) {
      this.arrive();
      return;
    }
    this.rampLeft = RAMP_FRAMES;
    this.stepLeft = (left - this.gainLeft) / RAMP_FRAMES;
    this.stepRight = (right - this.gainRight) / RAMP_FRAMES;
  }

  /**
   * Runs the effects over the first `count` frames, adds them to the outputs at `offset` and to where it sends, and
   * empties the bus.
   */
  mixInto(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number, frame: number): void {
    this.runEffects(count, frame);
    const { left, right, given } = this;
    const directTarget = this.isDirect ? 1 : 0;
    let loudest = 0;
    for (let i = 0; i < count; i++) {
      if (this.rampLeft > 0) {
        this.rampLeft--;
        const arrived = this.rampLeft === 0;
        this.gainLeft = arrived ? this.targetLeft : this.gainLeft + this.stepLeft;
        this.gainRight = arrived ? this.targetRight : this.gainRight + this.stepRight;
      }
      loudest = Math.max(loudest, Math.abs(left[i]!), Math.abs(right[i]!));
      const l = left[i]! * this.gainLeft;
      const r = right[i]! * this.gainRight;
      if (this.direct !== directTarget) this.direct = stepped(this.direct, directTarget);
      outLeft[offset + i]! += l * this.direct;
      outRight[offset + i]! += r * this.direct;
      given.left[i] = l;
      given.right[i] = r;
      const level = Math.max(Math.abs(l), Math.abs(r));
      if (level > this.peak) this.peak = level;
      left[i] = 0;
      right[i] = 0;
    }
    this.isSounding = loudest > INAUDIBLE;
    if (!this.isSounding) {
      this.arrive();
      this.settle();
    }
    for (let s = 0; s < this.sends.length; s++) this.send(this.sends[s]!, count);
    dropWhere(this.sends, isSilent);
  }

  private runEffects(count: number, frame: number): void {
    const { effects } = this;
    let isAnyIn = false;
    for (let e = 0; e < effects.length; e++) {
      effects[e]!.process(this, count, frame);
      isAnyIn ||= !effects[e]!.isOut;
    }
    dropWhere(effects, isGone);
    if (!this.nextEffects || isAnyIn) return;
    this.effects = this.nextEffects;
    this.nextEffects = null;
    for (let e = 0; e < this.effects.length; e++) this.effects[e]!.aim(true);
  }

  private send(send: Send, count: number): void {
    const { to, target, step } = send;
    const { given } = this;
    for (let i = 0; i < count; i++) {
      if (send.gain !== target) send.gain = Math.abs(target - send.gain) <= Math.abs(step) ? target : send.gain + step;
      if (!to) continue;
      to.left[i]! += given.left[i]! * send.gain;
      to.right[i]! += given.right[i]! * send.gain;
    }
  }
}

const isGone = (slot: EffectSlot): boolean => slot.isLeaving && slot.isOut;
const isSilent = ({ gain, target }: Send): boolean => gain === 0 && target === 0;

/** One frame's step from 0 to 1 or back. */
function stepped(from: number, to: number): number {
  return to > from ? Math.min(to, from + 1 / SWITCH_FRAMES) : Math.max(to, from - 1 / SWITCH_FRAMES);
}

/** Takes items out in place: nothing may be allocated while sound runs. */
function dropWhere<T>(items: T[], isToGo: (item: T) => boolean): void {
  let kept = 0;
  for (let i = 0; i < items.length; i++) if (!isToGo(items[i]!)) items[kept++] = items[i]!;
  items.length = kept;
}
