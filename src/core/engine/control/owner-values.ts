/**
 * The settings of one owner while it sounds: what is set is reached within the time that the table says, and what moves it
 * is laid over: `step`, then `fold`. Worked out once a control step; an owner of which nothing moves costs nothing. Allocates nothing after it
 * was made.
 */
import type { Rows } from '../../params/row.ts';
import { dbToGain, gainToDb } from '../../units/level.ts';
import { movedValue, rowMoves, stepsToReach, type RowMoves } from './row-moves.ts';

export class OwnerValues {
  /** As they are in this step, in the order of the rows. */
  readonly now: Float64Array;
  private readonly moves: RowMoves;
  /** As they were set, as far as that is reached, and steps to go. */
  private readonly wanted: Float64Array;
  private readonly reached: Float64Array;
  private readonly stepsLeft: Int32Array;
  /** What sources have brought for this step; null while none is led here. */
  private sums: Float64Array | null = null;
  private isRamping = false;
  /** Something was set that is there at once. */
  private isOther = false;

  /** @param values in the order of the rows */
  constructor(
    rows: Rows,
    values: Float64Array,
    private readonly sampleRate: number,
  ) {
    this.moves = rowMoves(rows);
    this.now = values.slice();
    this.wanted = values.slice();
    this.reached = values.slice();
    this.stepsLeft = new Int32Array(values.length);
  }

  /** What it is set to, slot by slot. */
  get base(): Float64Array {
    return this.wanted;
  }

  /** Sets all of them. */
  take(values: Float64Array): void {
    for (let slot = 0; slot < values.length; slot++) this.set(slot, values[slot]!);
  }

  /** Sets one; it is reached from the next step on, in the time of its row. */
  set(slot: number, value: number): void {
    if (value === this.wanted[slot]) return;
    this.wanted[slot] = value;
    const steps = stepsToReach(this.moves, slot, this.sampleRate);
    if (steps === 0) {
      this.reached[slot] = value;
      if (!this.sums) this.now[slot] = value;
      this.stepsLeft[slot] = 0;
      this.isOther = true;
      return;
    }
    this.stepsLeft[slot] = steps;
    this.isRamping = true;
  }

  /** All is as it was set: nothing sounds that could make a step. */
  arrive(): void {
    this.isOther = false;
    if (!this.isRamping) return;
    this.isRamping = false;
    this.stepsLeft.fill(0);
    this.reached.set(this.wanted);
    if (!this.sums) this.now.set(this.wanted);
  }

  /** Has it not reached yet what it was set to? */
  get isOnItsWay(): boolean {
    return this.isRamping;
  }

  /** Will it be another in the next step? */
  get isMoving(): boolean {
    return this.isRamping || this.isOther || this.sums !== null;
  }

  /** Sources are led here, or no longer. */
  lead(isLed: boolean): void {
    if (isLed === (this.sums !== null)) return;
    this.sums = isLed ? new Float64Array(this.wanted.length) : null;
    // What they have moved comes back as softly as it was set.
    this.stepsLeft.forEach((left, slot) => {
      if (isLed || this.now[slot] === this.wanted[slot]) return;
      this.reached[slot] = this.now[slot]!;
      this.stepsLeft[slot] = Math.max(left, 1, stepsToReach(this.moves, slot, this.sampleRate));
      this.isRamping = true;
    });
  }

  /** Forgets what sources have brought: they bring it anew in each step. */
  clear(): void {
    this.sums?.fill(0);
  }

  /** @param by in the row's `movedBy`: as stored, or in cents */
  add(slot: number, by: number): void {
    if (this.sums) this.sums[slot]! += by;
  }

  /** Goes one control step on, towards what it was set to. @returns whether anything may be another than before */
  step(): boolean {
    if (this.isRamping) {
      this.ramp();
      if (!this.sums) this.now.set(this.reached);
      this.isOther = false;
      return true;
    }
    const isOther = this.isOther || this.sums !== null;
    this.isOther = false;
    return isOther;
  }

  /** Lays over it what sources have brought. */
  fold(): void {
    const { now, reached, sums, moves } = this;
    if (!sums) return;
    for (let slot = 0; slot < now.length; slot++) now[slot] = movedValue(moves, slot, reached[slot]!, sums[slot]!);
  }

  private ramp(): void {
    const { moves, wanted, reached, stepsLeft } = this;
    this.isRamping = false;
    for (let slot = 0; slot < stepsLeft.length; slot++) {
      const left = stepsLeft[slot]!;
      if (left === 0) continue;
      const from = reached[slot]!;
      const to = wanted[slot]!;
      if (left === 1) reached[slot] = to;
      else if (moves.isLogarithmic[slot]) reached[slot] = from * (to / from) ** (1 / left);
      else if (moves.isLevel[slot]) reached[slot] = gainToDb(dbToGain(from) + (dbToGain(to) - dbToGain(from)) / left);
      else reached[slot] = from + (to - from) / left;
      stepsLeft[slot] = left - 1;
      if (left > 1) this.isRamping = true;
    }
  }
}
