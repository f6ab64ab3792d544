/** A channel of the mix: where voices and other channels meet, its effects, its level, its ways out, its meter. */
import { slotsOf } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { framesPerTick } from '../../units/time.ts';
import { dbToGain, panLeftGain, panRightGain } from '../../units/level.ts';
import { CONTROL_FRAMES, framesToLook } from '../control/control-step.ts';
import { OwnerValues } from '../control/owner-values.ts';
import type { ChannelFragment, SendFragment } from '../plan/fragments.ts';
import type { Moment, StereoBus } from './effects/effect.ts';
import { ChainMix } from './chain-mix.ts';
import { dropWhere, EffectRow } from './effect-row.ts';
import { Hits } from './hits.ts';
import { makeSlot } from './make-slot.ts';
import { stepped, type EffectSlot } from './slot.ts';
import { sendWay, Way } from './way.ts';

export const CHANNEL = slotsOf(CHANNEL_ROWS);
/** -120 dB: what effects still ring with long after. */
const INAUDIBLE = 1e-6;
/** A tone crosses nothing for less than this. */
const QUIET_FRAMES = 64;
/** Most frames that are rendered at once. */
export const MAX_SEGMENT_FRAMES = 4096;

export class ChannelState implements StereoBus {
  readonly left = new Float32Array(MAX_SEGMENT_FRAMES);
  readonly right = new Float32Array(MAX_SEGMENT_FRAMES);
  /** What it gives, effects and level included: for where it leads, and those that listen to it. */
  readonly given = { left: new Float32Array(MAX_SEGMENT_FRAMES), right: new Float32Array(MAX_SEGMENT_FRAMES) };
  /** What is struck in it. */
  readonly hits = new Hits();
  readonly id: string;
  readonly owner: OwnerValues;
  /** Loudest sample since it was last read and cleared. */
  peak = 0;
  readonly effects: EffectRow<EffectSlot>;
  /** Where what it is led on with is kept for itself, from the beginning of a block on; null where nobody asks. */
  stem: StereoBus | null = null;
  /** Where it is led; the last one of two while it is led elsewhere. */
  outputs: Way[] = [];
  sends: Way[] = [];
  private readonly chainMix: ChainMix;
  private isHeard = true;
  private heard = 1;
  /** For how many frames there was nothing to hear, mute and level apart. */
  private quietFrames = QUIET_FRAMES;
  /** Levels as they stand, what they come to in this step, and their change from frame to frame. */
  private gainLeft = 0;
  private gainRight = 0;
  private toLeft = 0;
  private toRight = 0;
  private slopeLeft = 0;
  private slopeRight = 0;

  constructor(
    fragment: ChannelFragment,
    private readonly sampleRate: number,
  ) {
    this.id = fragment.id;
    this.owner = new OwnerValues(CHANNEL_ROWS, fragment.values, sampleRate);
    this.chainMix = new ChainMix(sampleRate);
    this.effects = new EffectRow((effect) => makeSlot(effect, sampleRate));
    this.take(fragment);
    this.arrive();
  }

  /** Takes a new fragment; effects and ways that stay keep their sound, and what comes, goes or moves does so without a step. */
  take(fragment: ChannelFragment): void {
    this.owner.take(fragment.values);
    this.isHeard = fragment.isHeard;
    this.effects.take(fragment.effects);
    this.takeOutput(fragment);
    this.takeSends(fragment.sends);
    if (this.isQuiet) this.arrive();
  }

  /** Nothing sounds in it. */
  get isQuiet(): boolean {
    return this.quietFrames >= QUIET_FRAMES;
  }

  private takeOutput({ outputId, isOutputOpen }: ChannelFragment): void {
    for (const way of this.outputs) way.isLeaving = way.toId !== outputId;
    if (!this.outputs.some((way) => !way.isLeaving)) this.outputs.push(new Way(outputId));
    for (const way of this.outputs) way.aim(isOutputOpen);
  }

  private takeSends(fragments: readonly SendFragment[]): void {
    const sends = fragments.map((fragment) => {
      const { id, toChannelId, isOpen } = fragment;
      const known = this.sends.find((way) => way.id === id && way.toId === toChannelId);
      const way = known ?? sendWay(fragment, this.sampleRate);
      way.isLeaving = false;
      way.owner!.take(fragment.values);
      way.aim(isOpen);
      return way;
    });
    const leaving = this.sends.filter((way) => !sends.includes(way));
    for (const way of leaving) {
      way.isLeaving = true;
      way.aim(false);
    }
    this.sends = [...sends, ...leaving];
  }

  /** All ways out of it. */
  get ways(): readonly Way[] {
    return [...this.outputs, ...this.sends];
  }

  /** Nothing sounds that could make a step: all is as it is to be. */
  private arrive(): void {
    this.effects.arrive();
    for (let w = 0; w < this.outputs.length; w++) this.outputs[w]!.arrive();
    for (let w = 0; w < this.sends.length; w++) this.sends[w]!.arrive();
    this.dropGone();
    this.heard = this.isHeard ? 1 : 0;
    this.owner.arrive();
    this.aimLevel();
    this.chainMix.arrive();
    this.gainLeft = this.toLeft;
    this.gainRight = this.toRight;
    this.slopeLeft = this.slopeRight = 0;
  }

  private aimLevel(): void {
    const { now } = this.owner;
    const gain = dbToGain(now[CHANNEL.gainDb]!);
    this.toLeft = gain * panLeftGain(now[CHANNEL.pan]!);
    this.toRight = gain * panRightGain(now[CHANNEL.pan]!);
    this.chainMix.aim(now[CHANNEL.chainWet]!, now[CHANNEL.chain]!);
  }

  /** A control step begins: on to the levels that it brings. */
  private stepLevel(): void {
    this.gainLeft = this.toLeft;
    this.gainRight = this.toRight;
    this.slopeLeft = this.slopeRight = 0;
    if (!this.owner.step()) return;
    this.owner.fold();
    this.aimLevel();
    this.slopeLeft = (this.toLeft - this.gainLeft) / CONTROL_FRAMES;
    this.slopeRight = (this.toRight - this.gainRight) / CONTROL_FRAMES;
  }

  private dropGone(): void {
    this.effects.dropGone();
    dropWhere(this.outputs, isGoneWay);
    dropWhere(this.sends, isGoneWay);
  }

  setValue(slot: number, value: number): void {
    this.owner.set(slot, value);
    if (this.isQuiet) this.arrive();
  }

  /** Do its level or its ways out move? */
  private get isLevelMoving(): boolean {
    if (this.owner.isMoving || this.slopeLeft !== 0 || this.slopeRight !== 0) return true;
    return this.outputs.some(isMovingWay) || this.sends.some(isMovingWay);
  }

  /** Does anything of it move, so that it has to be worked out step by step? */
  private get isMoving(): boolean {
    return !this.effects.isEmpty || this.isLevelMoving;
  }

  /**
   * Runs the effects over the first `count` frames, brings them to where it leads, and empties the bus.
   * @param out where the last channel of all leads @param offset of these frames in it
   * @param gridFrame a frame on which a control step begins
   */
  mixInto(out: StereoBus, offset: number, count: number, moment: Moment, gridFrame: number): void {
    if (this.isQuiet && this.effects.isStill && !this.isLevelMoving && isSilent(this, count)) {
      this.given.left.fill(0, 0, count);
      this.given.right.fill(0, 0, count);
      this.arrive();
      return;
    }
    const { frame, positionTicks, songFrame } = moment;
    const ticksAFrame = moment.isRunning ? 1 / framesPerTick(moment.tempoBpm, this.sampleRate) : 0;
    for (let at = 0; at < count;) {
      const framesToNext = framesToLook(frame + at, gridFrame);
      const run = this.isMoving ? Math.min(count - at, framesToNext) : count - at;
      moment.frame = frame + at;
      moment.positionTicks = positionTicks + at * ticksAFrame;
      moment.songFrame = songFrame + at;
      const isStep = (moment.isStep = framesToNext === CONTROL_FRAMES);
      if (isStep) this.stepLevel();
      // On the grid, and by frames counted one by one: the size of the blocks changes nothing.
      if (isStep && this.isQuiet) this.arrive();
      this.runEffects(at, run, moment);
      this.runLevel(at, run);
      for (let w = 0; w < this.outputs.length; w++) {
        const way = this.outputs[w]!;
        if (way.to && this.stem) this.carryStem(way, way.to, at, run, offset + at, isStep);
        else if (way.to) way.carry(this.given, at, run, way.to, at, isStep);
        else if (way.toId === null) way.carry(this.given, at, run, out, offset + at, isStep);
      }
      for (let w = 0; w < this.sends.length; w++) {
        const way = this.sends[w]!;
        if (way.to) way.carry(way.isBefore ? this : this.given, at, run, way.to, at, isStep);
      }
      at += run;
    }
    moment.frame = frame;
    moment.positionTicks = positionTicks;
    moment.songFrame = songFrame;
    this.left.fill(0, 0, count);
    this.right.fill(0, 0, count);
    if (this.isQuiet && !this.isMoving) this.arrive();
    else this.dropGone();
  }

  /** What is led on is kept for itself, too: the same numbers are added. */
  private carryStem(way: Way, to: StereoBus, at: number, run: number, stemAt: number, isStep: boolean): void {
    const { left, right } = this.stem!;
    way.carry(this.given, at, run, this.stem!, stemAt, isStep);
    for (let i = 0; i < run; i++) {
      to.left[at + i]! += left[stemAt + i]!;
      to.right[at + i]! += right[stemAt + i]!;
    }
  }

  private runLevel(from: number, count: number): void {
    const isSteady = this.slopeLeft === 0 && this.slopeRight === 0 && this.isHeard && this.heard === 1;
    if (isSteady) this.runSteadyLevel(from, count);
    else this.runMovingLevel(from, count);
  }

  /** The same numbers as {@link runMovingLevel} gives where nothing moves, in half the time. */
  private runSteadyLevel(from: number, count: number): void {
    const { left, right, gainLeft, gainRight } = this;
    const { left: givenLeft, right: givenRight } = this.given;
    const end = from + count;
    let { peak } = this;
    let lastHeard = from - 1 - this.quietFrames;
    for (let i = from; i < end; i++) {
      const l = left[i]!;
      const r = right[i]!;
      if (l > INAUDIBLE || l < -INAUDIBLE || r > INAUDIBLE || r < -INAUDIBLE) lastHeard = i;
      const outLeft = l * gainLeft;
      const outRight = r * gainRight;
      givenLeft[i] = outLeft;
      givenRight[i] = outRight;
      const loudLeft = outLeft < 0 ? -outLeft : outLeft;
      const loudRight = outRight < 0 ? -outRight : outRight;
      if (loudLeft > peak) peak = loudLeft;
      if (loudRight > peak) peak = loudRight;
    }
    this.peak = peak;
    this.quietFrames = Math.min(QUIET_FRAMES, end - 1 - lastHeard);
  }

  private runMovingLevel(from: number, count: number): void {
    const { left, right, given, slopeLeft, slopeRight } = this;
    const heardTo = this.isHeard ? 1 : 0;
    let { gainLeft, gainRight, heard, peak, quietFrames } = this;
    for (let i = from; i < from + count; i++) {
      gainLeft += slopeLeft;
      gainRight += slopeRight;
      if (heard !== heardTo) heard = stepped(heard, heardTo);
      if (Math.abs(left[i]!) > INAUDIBLE || Math.abs(right[i]!) > INAUDIBLE) quietFrames = 0;
      else quietFrames++;
      // What is sent before the level is not heard either where the channel is not.
      left[i]! *= heard;
      right[i]! *= heard;
      const l = left[i]! * gainLeft;
      const r = right[i]! * gainRight;
      given.left[i] = l;
      given.right[i] = r;
      peak = Math.max(peak, Math.abs(l), Math.abs(r));
    }
    this.gainLeft = gainLeft;
    this.gainRight = gainRight;
    this.heard = heard;
    this.peak = peak;
    this.quietFrames = Math.min(QUIET_FRAMES, quietFrames);
  }

  private runEffects(from: number, count: number, moment: Moment): void {
    if (this.effects.isEmpty) return;
    this.chainMix.take(this, from, count);
    this.effects.process(this, from, count, moment);
    this.chainMix.give(this, from, count, this.effects.latencyFrames);
  }
}

/** Did nothing come in? Where something did, that is seen at once. */
function isSilent({ left, right }: StereoBus, count: number): boolean {
  for (let i = 0; i < count; i++) if (left[i] !== 0 || right[i] !== 0) return false;
  return true;
}

const isGoneWay = (way: Way): boolean => way.isGone;
const isMovingWay = (way: Way): boolean => way.isMoving;
