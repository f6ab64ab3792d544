/** Repeats what comes in, in note values or milliseconds, with filters, drive and pitch in its loop. */
import { NOTE_QUARTERS } from '../../../params/effect-rows/common.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { DelayMemory } from './building/delay-memory.ts';
import { LevelFollower } from './building/level-follower.ts';
import { noteFrames } from './building/note-round.ts';
import { OnePole } from './building/one-pole.ts';
import { PitchTurn } from './building/pitch-turn.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const ECHO = slotsOf(EFFECT_ROWS.echo);
const MOST_SECONDS = 8;
/** Another time comes in over the old one within this many frames. */
const CROSS_FRAMES = 1024;
/** What lies in the loop stays below this level, whatever comes back. */
const MOST_LEVEL = 4;
const DUCK_MS = [2, 160] as const;
/** Of a louder sound the echo gives way wholly. */
const DUCK_FULL = dbToGain(-24);

/** What comes back is read before this step is written. */
const LEAST_FRAMES = 36;

const holds = scratch();
const feedbacks = scratch();
const across = scratch();
const drives = scratch();
const cents = scratch();
const ducks = scratch();
const filtered = scratch();
const gotLeft = scratch();
const gotRight = scratch();
const intoLeft = scratch();
const intoRight = scratch();

/** One side of the loop. */
class EchoSide {
  readonly memory: DelayMemory;
  readonly pitch: PitchTurn;
  private readonly low = new OnePole();
  private readonly high = new OnePole();

  constructor(sampleRate: number) {
    this.memory = new DelayMemory(MOST_SECONDS * sampleRate);
    this.pitch = new PitchTurn(sampleRate);
  }

  reset(): void {
    for (const one of [this.memory, this.pitch, this.low, this.high]) one.reset();
  }

  set(lowHz: number, highHz: number, sampleRate: number): void {
    this.low.set(lowHz, sampleRate);
    this.high.set(highHz, sampleRate);
  }

  /** Bends and filters what goes round, in place, as far as it is not held. */
  shape(samples: Float64Array, count: number): void {
    for (let i = 0; i < count; i++) filtered[i] = samples[i]!;
    this.low.runHigh(filtered, count);
    this.high.runLow(filtered, count);
    for (let i = 0; i < count; i++) {
      const value = filtered[i]! + (samples[i]! - filtered[i]!) * holds[i]!;
      const drive = drives[i]!;
      const driven = drive > 1 ? Math.tanh(value * drive) / drive : value;
      samples[i] = Math.max(-MOST_LEVEL, Math.min(MOST_LEVEL, driven));
    }
  }
}

export class EchoEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly sides: readonly [EchoSide, EchoSide];
  private readonly feedback = new Ramp();
  private readonly across = new Ramp();
  private readonly drive = new Ramp();
  private readonly duck = new Ramp();
  private readonly hold = new Ramp();
  private readonly pitch = new Ramp();
  private readonly follower = new LevelFollower();
  private quarters = 0;
  private fixedFrames = 0;
  /** Where it is read, and was before another time was set. */
  private frames = 0;
  private oldFrames = 0;
  private crossLeft = 0;
  private rounds = 1;

  constructor(private readonly sampleRate: number) {
    this.sides = [new EchoSide(sampleRate), new EchoSide(sampleRate)];
  }

  /** Until what goes round is 120 dB down; where it is held, for ever. */
  get restFrames(): number {
    return Math.max(this.frames, this.oldFrames, this.sampleRate / 2) * this.rounds;
  }

  set(values: Float64Array): void {
    const { sampleRate } = this;
    const feedback = values[ECHO.feedback]!;
    const holds = values[ECHO.holds]!;
    this.quarters = values[ECHO.timeIn] === 0 ? NOTE_QUARTERS[values[ECHO.timeNote]!]! : 0;
    this.fixedFrames = (values[ECHO.timeMs]! / 1000) * sampleRate;
    this.feedback.aim(feedback);
    this.hold.aim(holds);
    this.across.aim(values[ECHO.across]!);
    this.drive.aim(dbToGain(values[ECHO.driveDb]!));
    this.duck.aim(values[ECHO.duckDb]!);
    this.pitch.aim(values[ECHO.pitchCents]!);
    this.follower.set(DUCK_MS[0], DUCK_MS[1], sampleRate);
    for (const side of this.sides) side.set(values[ECHO.lowCutHz]!, values[ECHO.highCutHz]!, sampleRate);
    this.rounds = holds || feedback > 0.999 ? Infinity : 2 + 6 / -Math.log10(Math.max(1e-3, feedback));
  }

  reset(): void {
    for (const side of this.sides) side.reset();
    for (const ramp of [this.feedback, this.across, this.drive, this.duck, this.hold, this.pitch]) ramp.reset();
    this.follower.reset();
    this.frames = this.oldFrames = this.crossLeft = 0;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    const [leftSide, rightSide] = this.sides;
    this.aimTime(moment);
    this.hold.run(holds, frameCount);
    this.feedback.run(feedbacks, frameCount);
    this.across.run(across, frameCount);
    this.drive.run(drives, frameCount);
    this.pitch.run(cents, frameCount);
    this.duck.run(ducks, frameCount);
    for (let i = 0; i < frameCount; i++) {
      const free = 1 - holds[i]!;
      feedbacks[i] = feedbacks[i]! * free + holds[i]!;
      drives[i] = 1 + (drives[i]! - 1) * free;
      cents[i]! *= free;
    }
    this.read(leftSide, gotLeft, frameCount, this.crossLeft);
    this.read(rightSide, gotRight, frameCount, this.crossLeft);
    this.crossLeft = Math.max(0, this.crossLeft - frameCount);
    for (let i = 0; i < frameCount; i++) {
      const free = 1 - holds[i]!;
      const l = left[i]! * free;
      const r = right[i]! * free;
      const over = across[i]!;
      // From side to side: what came in on both comes back on the left first.
      const inLeft = l + over * (r / 2 - l / 2);
      const backLeft = gotLeft[i]! + (gotRight[i]! - gotLeft[i]!) * over;
      const backRight = gotRight[i]! + (gotLeft[i]! - gotRight[i]!) * over;
      intoLeft[i] = inLeft + over * (l / 2) + backLeft * feedbacks[i]!;
      intoRight[i] = r * (1 - over) + backRight * feedbacks[i]!;
    }
    leftSide.memory.writeRun(intoLeft, frameCount);
    rightSide.memory.writeRun(intoRight, frameCount);
    for (let i = 0; i < frameCount; i++) {
      const level = this.follower.next(Math.max(Math.abs(left[i]!), Math.abs(right[i]!)));
      const gain = ducks[i] === 0 ? 1 : dbToGain(-ducks[i]! * Math.min(1, level / DUCK_FULL));
      left[i] = gotLeft[i]! * gain;
      right[i] = gotRight[i]! * gain;
    }
  }

  /** Another time is read beside the old one at first: nothing changes its pitch on the way. */
  private aimTime(moment: Moment): void {
    const wanted = this.quarters > 0 ? noteFrames(moment, this.quarters) : this.fixedFrames;
    const frames = Math.max(LEAST_FRAMES, Math.min(wanted, MOST_SECONDS * this.sampleRate - 8));
    if (this.frames === 0) this.frames = frames;
    if (frames === this.frames || this.crossLeft > 0) return;
    this.oldFrames = this.frames;
    this.frames = frames;
    this.crossLeft = CROSS_FRAMES;
  }

  /** What comes back, bent and filtered. */
  private read(side: EchoSide, into: Float64Array, count: number, crossLeft: number): void {
    const { memory } = side;
    for (let i = 0; i < count; i++) {
      const now = memory.readBetween(this.frames - i);
      const share = Math.max(0, crossLeft - 1 - i) / CROSS_FRAMES;
      into[i] = share === 0 ? now : now + (memory.readBetween(this.oldFrames - i) - now) * share;
    }
    side.pitch.run(into, cents, count);
    side.shape(into, count);
  }
}
