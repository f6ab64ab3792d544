/** How the numbers of a table of settings are moved: read from its rows once. */
import type { Rows } from '../../params/row.ts';
import { CONTROL_FRAMES } from './control-step.ts';

const CENTS_PER_OCTAVE = 1200;

export interface RowMoves {
  /** By equal factors and not by equal distances, slot by slot. */
  readonly isLogarithmic: Uint8Array;
  /** In decibels: on its way to another it goes by equal steps of amplitude. */
  readonly isLevel: Uint8Array;
  readonly min: Float64Array;
  readonly max: Float64Array;
  /** Within which a new value is reached. */
  readonly smoothingMs: Float64Array;
}

const movesOf = new WeakMap<Rows, RowMoves>();

export function rowMoves(rows: Rows): RowMoves {
  const known = movesOf.get(rows);
  if (known) return known;
  const list = Object.values(rows);
  const moves: RowMoves = {
    isLogarithmic: Uint8Array.from(list, (row) => Number(row.kind === 'number' && row.curve === 'logarithmic')),
    isLevel: Uint8Array.from(list, (row) => Number(row.kind === 'number' && row.unit === 'dB')),
    min: Float64Array.from(list, (row) => (row.kind === 'number' ? row.min : -Infinity)),
    max: Float64Array.from(list, (row) => (row.kind === 'number' ? row.max : Infinity)),
    smoothingMs: Float64Array.from(list, (row) => (row.kind === 'number' ? row.smoothingMs : 0)),
  };
  movesOf.set(rows, moves);
  return moves;
}

/** A value with what moves it, within its range. @param by in the row's `movedBy`: as stored, or in cents */
export function movedValue({ isLogarithmic, min, max }: RowMoves, slot: number, value: number, by: number): number {
  if (by === 0) return value;
  const moved = isLogarithmic[slot] ? value * 2 ** (by / CENTS_PER_OCTAVE) : value + by;
  return Math.max(min[slot]!, Math.min(max[slot]!, moved));
}

/** Control steps that a new value takes to be reached; 0: it is there at once. */
export function stepsToReach({ smoothingMs }: RowMoves, slot: number, sampleRate: number): number {
  return Math.round(((smoothingMs[slot]! / 1000) * sampleRate) / CONTROL_FRAMES);
}
