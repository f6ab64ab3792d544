/**
 * Delays that come back in tune: up to four notes at once. The loop of each is as long as the round of its note, the delay
 * of its own low pass taken into account.
 */
import { CONTROL_FRAMES } from '../../control/control-step.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { perSample } from './building/level-follower.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import { settled } from './building/section.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const COMB = slotsOf(EFFECT_ROWS.comb);
const FURTHER = [COMB.second, COMB.third, COMB.fourth] as const;
/** In the order of the choices of `tunedTo`. */
const TO_ROOT = 1;
const TO_KEYS = 2;
const VOICES = 4;
const LOWEST_HZ = 8;
/** Of a note in whose octave no root is said: C. */
const MIDDLE_OCTAVE = 48;

const inLeft = scratch();
const inRight = scratch();
const dulls = scratch();
/** Of one note, sample by sample: how far back in whole frames, the cubic between those, what comes back, how loud it is. */
const notes = scratch();
const wholes = new Int32Array(CONTROL_FRAMES);
const cubics = [scratch(), scratch(), scratch(), scratch()] as const;
const feedbacks = scratch();
const levels = scratch();
const shares = scratch();
const scales = scratch();

/** One side of one note. Its past is read in the loop itself: a call for each frame would box its numbers. */
class CombSide {
  private readonly past: Float32Array;
  private readonly mask: number;
  private at = 0;
  private low = 0;

  constructor(sampleRate: number) {
    const length = 2 ** Math.ceil(Math.log2(sampleRate / LOWEST_HZ + 16));
    this.past = new Float32Array(length);
    this.mask = length - 1;
  }

  reset(): void {
    this.past.fill(0);
    this.at = 0;
    this.low = 0;
  }

  /** Adds what comes out to a bus. */
  run(input: Float64Array, into: Float32Array, count: number): void {
    const { past, mask } = this;
    const [c0, c1, c2, c3] = cubics;
    let { at, low } = this;
    for (let i = 0; i < count; i++) {
      const from = at - wholes[i]!;
      const back =
        c0[i]! * past[(from + 1) & mask]! +
        c1[i]! * past[from & mask]! +
        c2[i]! * past[(from - 1) & mask]! +
        c3[i]! * past[(from - 2) & mask]!;
      low = back + (low - back) * dulls[i]!;
      const out = input[i]! * levels[i]! + feedbacks[i]! * low;
      past[at] = out;
      at = (at + 1) & mask;
      into[i]! += out * shares[i]!;
    }
    this.at = at;
    this.low = settled(low);
  }
}

/** One note. */
class CombNote {
  readonly sides: readonly [CombSide, CombSide];
  readonly share = new Ramp();
  readonly feedback = new Ramp();
  readonly scale = new Ramp();
  note = 60;
  isNew = true;
  /** Whether what was worked out last holds on while nothing moves, and that: how far back, cubic, feedback, level. */
  isWorkedOut = false;
  readonly rest = new Float64Array(7);

  constructor(sampleRate: number) {
    this.sides = [new CombSide(sampleRate), new CombSide(sampleRate)];
  }

  reset(): void {
    for (const side of this.sides) side.reset();
    for (const ramp of [this.share, this.feedback, this.scale]) ramp.reset();
    this.isNew = true;
    this.isWorkedOut = false;
  }
}

export class CombEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly notes: readonly CombNote[];
  /** As set; and with what the root or a key adds. */
  private readonly wanted = new Float64Array(VOICES);
  private readonly targets = new Float64Array(VOICES);
  private readonly dull = new Ramp();
  private tunedTo = 0;
  /** The key that was pressed last; -1 for none yet. */
  private key = -1;
  private glide = 1;
  private decaySeconds = 1;
  private sign = 1;
  private rest = 44_100;

  constructor(private readonly sampleRate: number) {
    this.notes = Array.from({ length: VOICES }, () => new CombNote(sampleRate));
  }

  /** Until it is 120 dB down. */
  get restFrames(): number {
    return this.rest;
  }

  set(values: Float64Array): void {
    const { sampleRate } = this;
    this.tunedTo = values[COMB.tunedTo]!;
    this.glide = perSample(Math.max(4, values[COMB.glideMs]!), sampleRate);
    this.decaySeconds = values[COMB.decaySeconds]!;
    this.sign = values[COMB.sign] === 1 ? -1 : 1;
    this.rest = Math.ceil(2 * this.decaySeconds * sampleRate) + 8820;
    this.dull.aim(0.9 * (1 - values[COMB.brightness]!) ** 2);
    let count = 1;
    this.wanted[0] = values[COMB.note]!;
    for (let v = 1; v < VOICES; v++) {
      const by = values[FURTHER[v - 1]!]!;
      this.wanted[v] = this.wanted[0] + by;
      this.notes[v]!.share.aim(Math.min(1, Math.abs(by)));
      if (by !== 0) count++;
    }
    this.notes[0]!.share.aim(1);
    for (const note of this.notes) {
      note.scale.aim(1 / Math.sqrt(count));
      note.isWorkedOut = false;
    }
  }

  reset(): void {
    for (const note of this.notes) note.reset();
    this.dull.reset();
    this.key = -1;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    this.findTargets(moment, frameCount);
    this.dull.run(dulls, frameCount);
    for (let i = 0; i < frameCount; i++) {
      inLeft[i] = left[i]!;
      inRight[i] = right[i]!;
    }
    left.fill(0, 0, frameCount);
    right.fill(0, 0, frameCount);
    for (let v = 0; v < VOICES; v++) {
      const note = this.notes[v]!;
      if (!note.share.isMoving && note.share.now === 0) {
        if (!note.isNew) note.reset();
        note.share.aim(0);
        continue;
      }
      this.tune(note, v, frameCount);
      note.sides[0].run(inLeft, left, frameCount);
      note.sides[1].run(inRight, right, frameCount);
    }
  }

  /** The notes that it is tuned to. */
  private findTargets({ rootNote, hits, frame, lateFrames }: Moment, frameCount: number): void {
    const { wanted, targets } = this;
    const first = wanted[0]!;
    let by = 0;
    if (this.tunedTo === TO_KEYS) {
      // What was pressed long ago is forgotten by the hits, and not here.
      const key = hits?.lastKeyBefore(frame - lateFrames + frameCount) ?? -1;
      if (key >= 0) this.key = key;
      if (this.key >= 0) by = this.key - first;
    } else if (this.tunedTo === TO_ROOT && rootNote >= 0) {
      // The octave of the note stays, the root takes its place within it.
      by = Math.floor((first || MIDDLE_OCTAVE) / 12) * 12 + rootNote - first;
    }
    for (let v = 0; v < VOICES; v++) targets[v] = wanted[v]! + by;
  }

  /** Lengths and losses of a note's loop; where nothing moves they are worked out once. */
  private tune(note: CombNote, place: number, count: number): void {
    const wanted = this.targets[place]!;
    note.share.run(shares, count);
    note.scale.run(scales, count);
    for (let i = 0; i < count; i++) shares[i]! *= scales[i]!;
    const isAtRest = !note.isNew && note.note === wanted && dulls[0] === dulls[count - 1];
    const { rest } = note;
    if (isAtRest && note.isWorkedOut) {
      wholes.fill(rest[0]!, 0, count);
      for (let c = 0; c < 4; c++) cubics[c]!.fill(rest[1 + c]!, 0, count);
      feedbacks.fill(rest[5]!, 0, count);
      levels.fill(rest[6]!, 0, count);
      return;
    }
    for (let i = 0; i < count; i++) {
      note.note = note.isNew ? wanted : note.note + (wanted - note.note) * this.glide;
      if (Math.abs(note.note - wanted) < 1e-4) note.note = wanted;
      note.isNew = false;
      notes[i] = note.note;
      this.tuneAt(i);
    }
    note.isWorkedOut = isAtRest;
    rest[0] = wholes[0]!;
    for (let c = 0; c < 4; c++) rest[1 + c] = cubics[c]![0]!;
    rest[5] = feedbacks[0]!;
    rest[6] = levels[0]!;
  }

  /** By the note and the dullness of a frame. */
  private tuneAt(i: number): void {
    const dull = dulls[i]!;
    const note = notes[i]!;
    const hz = Math.max(LOWEST_HZ, Math.min(this.sampleRate / 6, 440 * 2 ** ((note - 69) / 12)));
    const omega = (2 * Math.PI * hz) / this.sampleRate;
    // Phase of `(1 - d) / (1 - d z^-1)` at the note, and what it takes of it.
    const late = Math.atan2(dull * Math.sin(omega), 1 - dull * Math.cos(omega));
    const softer = (1 - dull) / Math.sqrt(1 - 2 * dull * Math.cos(omega) + dull * dull);
    // Turned over it comes round after half a round of the note.
    const round = this.sign > 0 ? 2 * Math.PI : Math.PI;
    const seconds = round / omega / this.sampleRate;
    const feedback = Math.min(0.99995, 10 ** ((-3 * seconds) / this.decaySeconds) / softer);
    const length = Math.max(2, (round - late) / omega);
    const d = length - Math.floor(length);
    wholes[i] = Math.floor(length);
    // Lagrange's polynomial of third order, as in DelayMemory.
    cubics[0][i] = (-d * (d - 1) * (d - 2)) / 6;
    cubics[1][i] = ((d + 1) * (d - 1) * (d - 2)) / 2;
    cubics[2][i] = (-(d + 1) * d * (d - 2)) / 2;
    cubics[3][i] = ((d + 1) * d * (d - 1)) / 6;
    feedbacks[i] = feedback * this.sign;
    // What is as broad as noise comes out as loud as it went in.
    levels[i] = Math.sqrt(1 - feedback * feedback);
  }
}
