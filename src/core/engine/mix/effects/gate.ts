/** Lets through what is loud enough, or what a row of steps says. */
import { NOTE_QUARTERS } from '../../../params/effect-rows/common.ts';
import { GATE_STEPS } from '../../../params/effect-rows/gate.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { LevelFollower, perSample } from './building/level-follower.ts';
import { noteRound } from './building/note-round.ts';
import { Ramp } from './building/ramp.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const GATE = slotsOf(EFFECT_ROWS.gate);
const FIRST_STEP = Object.keys(EFFECT_ROWS.gate).indexOf('step1');
/** It shuts so much lower than it opens, so that it does not flutter. */
const SHUTS_BELOW = dbToGain(-4);
const FOLLOW_MS = 0.3;
const FOLLOW_FALL_MS = 12;

export class GateEffect implements Effect {
  readonly latencyFrames = 0;
  readonly restFrames = 4410;
  /** How far it is open, 0..1. */
  reading = 0;
  private readonly follower = new LevelFollower();
  private readonly floor = new Ramp();
  private readonly steps = new Float64Array(GATE_STEPS);
  private bySteps = false;
  private opensAt = 1;
  private attack = 1;
  private release = 1;
  private holdFrames = 0;
  private stepQuarters = 0.25;
  private open = 0;
  private isOpen = false;
  private heldFrames = 0;
  /** Of the song, the frame that would come next. */
  private nextFrame = -1;

  constructor(private readonly sampleRate: number) {}

  set(values: Float64Array): void {
    const { sampleRate } = this;
    this.bySteps = values[GATE.opens] === 1;
    this.opensAt = dbToGain(values[GATE.thresholdDb]!);
    this.attack = perSample(values[GATE.attackMs]!, sampleRate);
    this.release = perSample(values[GATE.releaseMs]!, sampleRate);
    this.holdFrames = Math.round((values[GATE.holdMs]! / 1000) * sampleRate);
    this.floor.aim(dbToGain(values[GATE.floorDb]!));
    this.follower.set(FOLLOW_MS, FOLLOW_FALL_MS, sampleRate);
    this.stepQuarters = NOTE_QUARTERS[values[GATE.stepNote]!]!;
    for (let step = 0; step < GATE_STEPS; step++) this.steps[step] = values[FIRST_STEP + step]!;
  }

  reset(): void {
    this.follower.reset();
    this.floor.reset();
    this.open = this.heldFrames = this.reading = 0;
    this.isOpen = false;
    this.nextFrame = -1;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment, side: StereoBus | null): void {
    // Where the song has jumped, or begins, it stands as its step says: the same at every play.
    if (this.bySteps && moment.songFrame !== this.nextFrame) this.open = this.stepAt(moment, 0);
    this.nextFrame = moment.songFrame + frameCount;
    const heardLeft = side?.left ?? left;
    const heardRight = side?.right ?? right;
    for (let i = 0; i < frameCount; i++) {
      const target = this.bySteps
        ? this.stepAt(moment, i)
        : this.byLevel(Math.max(Math.abs(heardLeft[i]!), Math.abs(heardRight[i]!)));
      this.open += (target - this.open) * (target > this.open ? this.attack : this.release);
      const floor = this.floor.next();
      const gain = floor + (1 - floor) * this.open;
      left[i]! *= gain;
      right[i]! *= gain;
    }
    this.reading = this.open;
  }

  private stepAt(moment: Moment, offset: number): number {
    const round = noteRound(moment, offset, this.stepQuarters * GATE_STEPS);
    return this.steps[Math.floor(round * GATE_STEPS) % GATE_STEPS]!;
  }

  private byLevel(amount: number): number {
    const level = this.follower.next(amount);
    if (level >= this.opensAt) {
      this.isOpen = true;
      this.heldFrames = this.holdFrames;
    } else if (this.isOpen && level < this.opensAt * SHUTS_BELOW) {
      if (this.heldFrames > 0) this.heldFrames--;
      else this.isOpen = false;
    }
    return this.isOpen ? 1 : 0;
  }
}
