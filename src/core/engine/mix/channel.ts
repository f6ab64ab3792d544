/** A channel of the mix: where voices meet, its effects, its level (smoothed so that turning it makes no noise), its meter. */
import { slotsOf } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import type { ChannelFragment } from '../plan/fragments.ts';
import { makeEffect } from './effects/index.ts';
import type { Effect, StereoBus } from './effects/effect.ts';

export const CHANNEL = slotsOf(CHANNEL_ROWS);
/** Frames in which a new level is reached. */
const RAMP_FRAMES = 256;
/** -120 dB: what effects still ring with long after. */
const INAUDIBLE = 1e-6;
/** Most frames that are rendered at once. */
export const MAX_SEGMENT_FRAMES = 4096;

interface Slot {
  id: string;
  effect: Effect;
  bypassed: boolean;
  sideChannelId: string | null;
  side: ChannelState | null;
}

interface Send {
  channelId: string;
  gain: number;
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
  effects: Slot[] = [];
  sends: Send[] = [];
  private isHeard = true;
  /** Whether there was anything to hear, mute and level apart, in the last frames. */
  private isSounding = false;
  private gainLeft = 0;
  private gainRight = 0;
  private targetLeft = 0;
  private targetRight = 0;
  private stepLeft = 0;
  private stepRight = 0;
  private rampLeft = 0;

  constructor(
    fragment: ChannelFragment,
    private readonly sampleRate: number,
  ) {
    this.id = fragment.id;
    this.values = fragment.values.slice();
    this.take(fragment);
    this.arrive();
  }

  /** Takes a new fragment; effects that stay keep their sound. */
  take(fragment: ChannelFragment): void {
    this.values = fragment.values.slice();
    this.isHeard = fragment.isHeard;
    const known = new Map(this.effects.map((slot) => [slot.id, slot]));
    this.effects = fragment.effects.map(({ id, kind, values, bypassed, sideChannelId }) => {
      const old = known.get(id);
      values.forEach((value, slot) => old?.effect.setValue(slot, value));
      const effect = old?.effect ?? makeEffect(kind, values, this.sampleRate);
      return { id, effect, bypassed, sideChannelId, side: null };
    });
    this.sends = fragment.sends.map((send) => ({ ...send, to: null }));
    this.aim();
  }

  setValue(slot: number, value: number): void {
    this.values[slot] = value;
    this.aim();
  }

  private arrive(): void {
    this.gainLeft = this.targetLeft;
    this.gainRight = this.targetRight;
    this.rampLeft = 0;
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
    for (let e = 0; e < this.effects.length; e++) {
      const { effect, bypassed, side } = this.effects[e]!;
      if (!bypassed) effect.process(this, count, frame, side?.given ?? null);
    }
    const { left, right, given } = this;
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
      outLeft[offset + i]! += l;
      outRight[offset + i]! += r;
      given.left[i] = l;
      given.right[i] = r;
      const level = Math.max(Math.abs(l), Math.abs(r));
      if (level > this.peak) this.peak = level;
      left[i] = 0;
      right[i] = 0;
    }
    this.isSounding = loudest > INAUDIBLE;
    if (!this.isSounding) this.arrive();
    for (let s = 0; s < this.sends.length; s++) {
      const { gain, to } = this.sends[s]!;
      if (!to) continue;
      for (let i = 0; i < count; i++) {
        to.left[i]! += given.left[i]! * gain;
        to.right[i]! += given.right[i]! * gain;
      }
    }
  }
}
