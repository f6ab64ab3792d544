/** The dials of a project, and what each moves from where to where. */
import { MODULATOR_ROWS, ROUTE_ROWS } from '../params/modulators.ts';
import { fullValues, type NumberRow } from '../params/row.ts';
import type { Modulator, ProjectDocument, Route } from '../document/schema.ts';

/** A macro, which has a name and a place. */
export type Macro = Modulator & { kind: 'macro'; name: string; place: number };

/** In the order of their places. */
export function macrosOf({ modulators }: Pick<ProjectDocument, 'modulators'>): Macro[] {
  const macros = Object.values(modulators).filter((one): one is Macro => one.kind === 'macro');
  return macros.sort((one, other) => one.place - other.place);
}

/** What leads from a modulator. */
export function routesFrom({ routes }: Pick<ProjectDocument, 'routes'>, modulatorId: string): Route[] {
  return Object.values(routes).filter((route) => route.modulatorId === modulatorId);
}

const CENTS_PER_OCTAVE = 1200;

/** A setting moved by so much of what it is moved by, within its range. @param share of the whole, as amounts are */
export function movedTo({ curve, movedBy, min, max }: NumberRow, value: number, share: number): number {
  const way = share * movedBy;
  const moved = curve === 'logarithmic' ? value * 2 ** (way / CENTS_PER_OCTAVE) : value + way;
  return Math.max(min, Math.min(max, moved));
}

/** By how much of what it is moved by a setting has to be moved to get from one value to another. */
export function shareTo({ curve, movedBy }: NumberRow, from: number, to: number): number {
  const way = curve === 'logarithmic' ? Math.log2(to / from) * CENTS_PER_OCTAVE : to - from;
  return way / movedBy;
}

/** What a source moves a setting from and to, at 0 and at 1. @param value as the setting is set */
export function rangeOf(
  row: NumberRow,
  value: number,
  { values }: Pick<Route, 'values'>,
): { from: number; to: number } {
  const { amount, offset } = fullValues(ROUTE_ROWS, values);
  return { from: movedTo(row, value, offset), to: movedTo(row, value, offset + amount) };
}

/** Where a dial stands, 0..1. */
export function positionOf({ values }: Macro): number {
  return fullValues(MODULATOR_ROWS.macro, values).position;
}
