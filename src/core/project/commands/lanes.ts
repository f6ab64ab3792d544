/** Lanes over a pattern or a section: a course that moves one setting. */
import { ROUTE_ROWS } from '../../params/modulators.ts';
import { withValues, type NumberRow } from '../../params/row.ts';
import { MAX_TICKS } from '../../document/limits.ts';
import { rowsOfTarget } from '../../document/owners.ts';
import { partIdOfPattern } from '../../document/pattern-part.ts';
import type { LanePoint, Modulator, ProjectDocument } from '../../document/schema.ts';
import { lanePoint, soundPoints } from '../../lanes/points.ts';
import { lanesOver, laneLengthTicks, settingOfLane } from '../../queries/lanes.ts';
import { movedTo, shareTo } from '../../queries/macros.ts';
import { numberOf } from '../../queries/setting-values.ts';
import { done, find, refused, type Command, type CommandResult } from './command.ts';
import type { Setting } from './macros.ts';
import { setRoute } from './modulators.ts';

const MIN_LENGTH_TICKS = 15;

/** Range of a new lane around what its setting is set to: levels below it only. In shares of what it is moved by. */
function rangeAround(row: NumberRow, value: number): { from: number; to: number } {
  const low = shareTo(row, value, movedTo(row, value, -1));
  const high = row.unit === 'dB' ? 0 : shareTo(row, value, movedTo(row, value, 1));
  return low === high ? { from: -1, to: 0 } : { from: low, to: high };
}

/**
 * Lays a lane; it stands where its setting is set, until it is drawn.
 * @param overId a pattern, or a section
 */
export const addLane: Command<Setting & { overId: string; points?: readonly LanePoint[] }> = (
  document,
  { overId, target, paramId, points },
  env,
) => {
  if (partIdOfPattern(document, overId) === null && !find(document.sections, overId))
    return refused('what it would lie over is gone');
  const isThere = lanesOver(document, overId).some((lane) => {
    const known = settingOfLane(document, lane);
    return known?.paramId === paramId && known.target.kind === target.kind && known.target.id === target.id;
  });
  if (isThere) return refused('there is a lane for it already');
  const row = rowsOfTarget(document, target)?.[paramId];
  if (row?.kind !== 'number') return refused('this setting cannot be moved');
  const { from, to } = rangeAround(row, numberOf(document, target, paramId) ?? row.default);
  const rest = from === to ? 0 : -from / (to - from);
  const lane: Modulator = {
    id: env.newId(),
    ownerId: overId,
    kind: 'lane',
    values: {},
    points: points ?? [lanePoint(0, rest)],
  };
  const added = { ...document, modulators: { ...document.modulators, [lane.id]: lane } };
  const led = setRoute(added, { modulatorId: lane.id, target, paramId, amount: to - from }, env);
  if (!led.ok) return led;
  const route = Object.values(led.document.routes).find(({ modulatorId }) => modulatorId === lane.id)!;
  const values = withValues(ROUTE_ROWS, route.values, { offset: from });
  return done({ ...led.document, routes: { ...led.document.routes, [route.id]: { ...route, values } } });
};

function withLane(document: ProjectDocument, laneId: string, change: (lane: Modulator) => Modulator): CommandResult {
  const lane = find(document.modulators, laneId);
  if (lane?.kind !== 'lane') return refused('this lane is gone');
  return done({ ...document, modulators: { ...document.modulators, [laneId]: change(lane) } });
}

/** Gives a lane another course. Points may be in any order; those beyond its end come to it. */
export const drawLane: Command<{ laneId: string; points: readonly LanePoint[] }> = (document, { laneId, points }) => {
  if (points.length === 0) return refused('a lane goes through one point at least');
  const lengthTicks = laneLengthTicks(document, laneId);
  return withLane(document, laneId, (lane) => ({ ...lane, points: soundPoints(points, lengthTicks) }));
};

/** Lets a lane go round by itself after a length of its own; null: with what it lies over. */
export const setLaneLength: Command<{ laneId: string; lengthTicks: number | null }> = (
  document,
  { laneId, lengthTicks },
) => {
  if (lengthTicks !== null && !(lengthTicks >= MIN_LENGTH_TICKS && lengthTicks <= MAX_TICKS)) {
    return refused('a lane is as long as a 1/256 note at least, and as 512 bars at most');
  }
  return withLane(document, laneId, ({ lengthTicks: _, ...lane }) =>
    lengthTicks === null ? lane : { ...lane, lengthTicks },
  );
};

/** Lays the course of a lane over its pattern once more, for another setting. */
export const copyLane: Command<Setting & { laneId: string }> = (document, { laneId, target, paramId }, env) => {
  const lane = find(document.modulators, laneId);
  if (lane?.kind !== 'lane') return refused('this lane is gone');
  const before = new Set(Object.keys(document.modulators));
  const added = addLane(document, { overId: lane.ownerId, target, paramId, points: lane.points! }, env);
  if (!added.ok || lane.lengthTicks === undefined) return added;
  const copyId = Object.keys(added.document.modulators).find((id) => !before.has(id))!;
  return setLaneLength(added.document, { laneId: copyId, lengthTicks: lane.lengthTicks }, env);
};
