/** From where to where a source moves a setting, as it is shown and set: of dials and of lanes. */
import { ROUTE_ROWS } from '#core/params/modulators.ts';
import { fullValues } from '#core/params/row.ts';
import type { Route } from '#core/document/schema.ts';
import { setRange } from '#core/project/commands/macros.ts';
import { movedTo, rangeOf, shareTo } from '#core/queries/macros.ts';
import { isOfSounds, numberOf } from '#core/queries/setting-values.ts';
import { movedBy, wholeWay, type Movable } from '#core/queries/targets.ts';
import { useProject } from '../document/project.ts';

/** As far as a range may reach, in what a setting is moved by. */
const FURTHEST = 4;

export interface MovedRange {
  route: Route;
  moved: Movable;
  /** Both ends as they are shown, and what they lie between. */
  from: number;
  to: number;
  least: number;
  most: number;
  unit: string;
  digits: number;
  /** Of many sounds, each from where it is: the ends are told as ways. */
  isRelative: boolean;
}

export function useMovedRanges() {
  const project = useProject();
  const valueOf = ({ target, paramId }: Route, { row }: Movable) =>
    numberOf(project.document!, target, paramId) ?? row.default;

  /** The range of a route; null for one that leads to nothing. */
  function rangeShown(route: Route): MovedRange | null {
    const moved = movedBy(project.document!, route);
    if (!moved) return null;
    const { row } = moved;
    if (isOfSounds(route.target)) {
      const { by, unit, digits } = wholeWay(row);
      const { amount, offset } = fullValues(ROUTE_ROWS, route.values);
      const ends = { from: offset * by, to: (offset + amount) * by, least: -FURTHEST * by, most: FURTHEST * by };
      return { route, moved, ...ends, unit, digits, isRelative: true };
    }
    const value = valueOf(route, moved);
    const { from, to } = rangeOf(row, value, route);
    const shown = (stored: number) => stored * row.scale;
    const [least, most] = [shown(movedTo(row, value, -FURTHEST)), shown(movedTo(row, value, FURTHEST))];
    const { unit, digits } = row;
    return { route, moved, from: shown(from), to: shown(to), least, most, unit, digits, isRelative: false };
  }

  function setEnds({ route, moved, isRelative }: MovedRange, from: number, to: number): void {
    const { row } = moved;
    const value = valueOf(route, moved);
    const share = (shown: number) => (isRelative ? shown / wholeWay(row).by : shareTo(row, value, shown / row.scale));
    project.run(`range of ${moved.words}`, setRange, { routeId: route.id, from: share(from), to: share(to) });
  }

  return { rangeShown, setEnds };
}

/** A range in few words: `0.2 to 8.0 kHz`, `-18.0 to 0.0 dB`. */
export function rangeWords({ from, to, unit, digits, isRelative }: MovedRange, between = 'to'): string {
  const isLarge = unit === 'Hz' && Math.max(Math.abs(from), Math.abs(to)) >= 1000;
  const words = (value: number) => {
    const text = isLarge ? (value / 1000).toFixed(1) : value.toFixed(digits);
    return isRelative && value > 0 ? `+${text}` : text;
  };
  return `${words(from)} ${between} ${words(to)} ${isLarge ? 'kHz' : unit}`.trim();
}
