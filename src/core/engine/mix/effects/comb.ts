/**
 * Delays that come back in tune: up to four notes at once. The loop of each is as long as the round of its note, the delay
 * of its own low pass taken into account.
 */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { DelayMemory } from './building/delay-memory.ts';
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
/** Of one note, sample by sample. */
const lengths = scratch();
const feedbacks = scratch();
const levels = scratch();
const shares = scratch();

/** One side of one note. */
class CombSide {
  readonly memory: DelayMemory;
  private low = 0;

  constructor(sampleRate: number) {
    this.memory = new DelayMemory(sampleRate / LOWEST_HZ + 8);
  }

  reset(): void {
    this.memory.reset();
    this.low = 0;
  }

  /** Adds what comes out to a bus. */
  run(input: Float64Array, into: Float32Array, count: number): void {
    const { memory } = this;
    let { low } = this;
    for (let i = 0; i < count; i++) {
      const back = memory.readBetween(lengths[i]!);
      low = back + (low - back) * dulls[i]!;
      const out = input[i]! * levels[i]! + feedbacks[i]! * low;
      memory.write(out);
      into[i]! += out * shares[i]!;
    }
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

  constructor(sampleRate: number) {
    this.sides = [new CombSide(sampleRate), new CombSide(sampleRate)];
  }

  reset(): void {
    for (const side of this.sides) side.reset();
    for (const ramp of [this.share, this.feedback, this.scale]) ramp.reset();
    this.isNew = true;
  }
}

export class CombEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly notes: readonly CombNote[];
  private readonly wanted = new Float64Array(VOICES);
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
    for (const note of this.notes) note.scale.aim(1 / Math.sqrt(count));
  }

  reset(): void {
    for (const note of this.notes) note.reset();
    this.dull.reset();
    this.key = -1;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    const by = this.away(moment, frameCount);
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
      this.tune(note, this.wanted[v]! + by, frameCount);
      note.sides[0].run(inLeft, left, frameCount);
      note.sides[1].run(inRight, right, frameCount);
    }
  }

  /** How far from the set note it is tuned. */
  private away({ rootNote, hits, frame, lateFrames }: Moment, frameCount: number): number {
    const first = this.wanted[0]!;
    if (this.tunedTo === TO_KEYS) {
      // What was pressed long ago is forgotten by the hits, and not here.
      const key = hits?.lastKeyBefore(frame - lateFrames + frameCount) ?? -1;
      if (key >= 0) this.key = key;
      return this.key >= 0 ? this.key - first : 0;
    }
    // The octave of the note stays, the root takes its place within it.
    const octave = Math.floor((first || MIDDLE_OCTAVE) / 12) * 12;
    return this.tunedTo === TO_ROOT && rootNote >= 0 ? octave + rootNote - first : 0;
  }

  /** Lengths and losses of a note's loop; where nothing moves they are worked out once. */
  private tune(note: CombNote, wanted: number, count: number): void {
    const isAtRest = !note.isNew && note.note === wanted && dulls[0] === dulls[count - 1];
    for (let i = 0; i < count; i++) {
      note.note = note.isNew ? wanted : note.note + (wanted - note.note) * this.glide;
      if (Math.abs(note.note - wanted) < 1e-4) note.note = wanted;
      note.isNew = false;
      if (isAtRest && i > 0) {
        lengths[i] = lengths[0]!;
        feedbacks[i] = feedbacks[0]!;
        levels[i] = levels[0]!;
      } else this.tuneAt(i, note.note);
      shares[i] = note.share.next() * note.scale.next();
    }
  }

  private tuneAt(i: number, note: number): void {
    const dull = dulls[i]!;
    const hz = Math.max(LOWEST_HZ, Math.min(this.sampleRate / 6, 440 * 2 ** ((note - 69) / 12)));
    const omega = (2 * Math.PI * hz) / this.sampleRate;
    // Phase of `(1 - d) / (1 - d z^-1)` at the note, and what it takes of it.
    const late = Math.atan2(dull * Math.sin(omega), 1 - dull * Math.cos(omega));
    const softer = (1 - dull) / Math.sqrt(1 - 2 * dull * Math.cos(omega) + dull * dull);
    // Turned over it comes round after half a round of the note.
    const round = this.sign > 0 ? 2 * Math.PI : Math.PI;
    const seconds = round / omega / this.sampleRate;
    const feedback = Math.min(0.99995, 10 ** ((-3 * seconds) / this.decaySeconds) / softer);
    lengths[i] = Math.max(2, (round - late) / omega);
    feedbacks[i] = feedback * this.sign;
    // What is as broad as noise comes out as loud as it went in.
    levels[i] = Math.sqrt(1 - feedback * feedback);
  }
}
