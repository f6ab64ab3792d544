/**
 * Zones on keys and strengths as arithmetic: keys sideways, strengths upwards, the keyboard beneath; what lies under a
 * point, and what a drag there makes of a zone.
 */
import type { KeyRange as Keys, VelocityRange } from '#core/document/schema.ts';
import { columnWidth, columnX, noteAt, type KeyRange } from './keyboard-layout.ts';

/** In pixels: what stands left of the keys, above and beneath the zones. */
export const AXIS_WIDTH = 46;
export const TABLE_TOP = 10;
export const CHOKE_ROW_HEIGHT = 22;
export const LETTERS_HEIGHT = 20;
export const OVERVIEW_HEIGHT = 16;
const KEYS_MOST = 84;
const KEYS_LEAST = 44;
const KEYS_SHARE = 0.16;
/** An edge is taken hold of so near to it. */
const EDGE_PX = 5;
const STEPS = 127;

export interface KeyTable {
  range: KeyRange;
  /** Of the canvas. */
  width: number;
  height: number;
  /** Upper and lower end of the strengths: 127 and 1. */
  top: number;
  base: number;
  keysTop: number;
  keysBottom: number;
}

export function layoutKeyTable(range: KeyRange, width: number, height: number, chokeRows: number): KeyTable {
  const keysBottom = height - OVERVIEW_HEIGHT - LETTERS_HEIGHT - 6;
  const tall = Math.max(KEYS_LEAST, Math.min(KEYS_MOST, height * KEYS_SHARE));
  const keysTop = keysBottom - tall;
  const base = keysTop - 8 - chokeRows * CHOKE_ROW_HEIGHT;
  return { range, width, height, top: TABLE_TOP, base, keysTop, keysBottom };
}

/** Left edge of a key's column. */
export function keyX({ range, width }: KeyTable, key: number): number {
  return AXIS_WIDTH + columnX(range, key, width - AXIS_WIDTH);
}

export function keyWidth({ range, width }: KeyTable): number {
  return columnWidth(range, width - AXIS_WIDTH);
}

/** Upper end of a strength 1..127; 0 is the base. */
export function strengthY({ top, base }: KeyTable, step: number): number {
  return base - ((base - top) * step) / STEPS;
}

/** The strength at a height, 1..127. */
export function strengthAt({ top, base }: KeyTable, y: number): number {
  return Math.max(1, Math.min(STEPS, Math.ceil(((base - y) * STEPS) / (base - top))));
}

/** The key whose column a point is in; null beside the keyboard. */
export function keyAt(table: KeyTable, x: number): number | null {
  return noteAt(table.range, x - AXIS_WIDTH, table.width - AXIS_WIDTH, true);
}

export interface LaidZone {
  id: string;
  keys: Keys;
  velocities: VelocityRange;
  /** Of several in one place: which of how many columns beside each other. */
  lane?: { index: number; count: number };
}

/** Zones on the same keys with strengths in common stand beside each other, so that each can be seen. */
export function withLanes<Zone extends LaidZone>(zones: readonly Zone[]): (Zone & Pick<LaidZone, 'lane'>)[] {
  const groups = new Map<string, Zone[]>();
  for (const zone of zones) {
    const place = `${zone.keys.low} ${zone.keys.high}`;
    groups.set(place, [...(groups.get(place) ?? []), zone]);
  }
  const laneById = new Map<string, { index: number; count: number }>();
  for (const group of groups.values()) {
    /** The highest strength in each column; a zone takes the first that is free. */
    const tops: number[] = [];
    const indexes = [...group]
      .sort((a, b) => a.velocities.low - b.velocities.low)
      .map((zone) => {
        const free = tops.findIndex((top) => top < zone.velocities.low);
        const index = free < 0 ? tops.length : free;
        tops[index] = zone.velocities.high;
        return { id: zone.id, index };
      });
    if (tops.length > 1) for (const { id, index } of indexes) laneById.set(id, { index, count: tops.length });
  }
  return zones.map((zone) => {
    const lane = laneById.get(zone.id);
    return lane ? { ...zone, lane } : zone;
  });
}

export interface ZoneBox {
  x: number;
  y: number;
  width: number;
  height: number;
}

export function zoneBox(table: KeyTable, { keys, velocities, lane }: Omit<LaidZone, 'id'>): ZoneBox {
  const { index, count } = lane ?? { index: 0, count: 1 };
  const left = keyX(table, keys.low);
  const width = (keyX(table, keys.high) + keyWidth(table) - left) / count;
  const y = strengthY(table, velocities.high);
  return {
    x: left + index * width,
    y,
    width,
    height: strengthY(table, velocities.low - 1) - y,
  };
}

export type Grip = 'body' | 'left' | 'right' | 'top' | 'bottom';

export type KeyTableSpot =
  | { kind: 'zone'; id: string; grip: Grip; step: number; key: number }
  | { kind: 'key'; key: number; velocity: number }
  | { kind: 'overview'; key: number }
  | { kind: 'nothing' };

/** What lies under a point: the last of several, which is drawn on top, the chosen ones first. */
export function keyTableSpot(
  table: KeyTable,
  zones: readonly LaidZone[],
  chosen: ReadonlySet<string>,
  x: number,
  y: number,
): KeyTableSpot {
  if (y >= table.height - OVERVIEW_HEIGHT) {
    const share = (x - AXIS_WIDTH) / Math.max(1, table.width - AXIS_WIDTH);
    return { kind: 'overview', key: Math.max(0, Math.min(127, Math.floor(share * 128))) };
  }
  if (y >= table.keysTop && y <= table.keysBottom) {
    const isBack = y < table.keysTop + (table.keysBottom - table.keysTop) * 0.6;
    const key = noteAt(table.range, x - AXIS_WIDTH, table.width - AXIS_WIDTH, isBack);
    if (key === null) return { kind: 'nothing' };
    return { kind: 'key', key, velocity: pressStrength(table.keysTop, table.keysBottom, y) };
  }
  const key = keyAt(table, x);
  if (y > table.base || key === null) return { kind: 'nothing' };
  const under = zones.filter((zone) => isInside(zoneBox(table, zone), x, y));
  const zone = under.findLast(({ id }) => chosen.has(id)) ?? under.at(-1);
  if (!zone) return { kind: 'nothing' };
  const step = strengthAt(table, y);
  return { kind: 'zone', id: zone.id, grip: gripOf(zoneBox(table, zone), x, y), step, key };
}

function isInside(box: ZoneBox, x: number, y: number): boolean {
  return x >= box.x && x < box.x + box.width && y >= box.y && y <= box.y + box.height;
}

function gripOf(box: ZoneBox, x: number, y: number): Grip {
  // A narrow column is taken as a whole but at its upper and lower ends.
  const isWide = box.width > 4 * EDGE_PX;
  if (isWide && x - box.x < EDGE_PX) return 'left';
  if (isWide && box.x + box.width - x < EDGE_PX) return 'right';
  if (y - box.y < EDGE_PX) return 'top';
  return box.y + box.height - y < EDGE_PX ? 'bottom' : 'body';
}

/** The higher on a key, the louder: 1 at its upper end, a third at its lower one. */
export function pressStrength(top: number, bottom: number, y: number): number {
  const share = Math.max(0, Math.min(1, (bottom - y) / Math.max(1, bottom - top)));
  return 0.33 + 0.67 * share;
}

const within = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));

/** What a drag makes of a zone: moved, or one of its ends. @param keysBy, stepsBy how far the pointer has gone */
export function draggedZone(zone: LaidZone, grip: Grip, keysBy: number, stepsBy: number): LaidZone {
  const { keys, velocities } = zone;
  if (grip === 'body') {
    const by = within(keysBy, -keys.low, 127 - keys.high);
    return { ...zone, keys: { low: keys.low + by, high: keys.high + by, root: within(keys.root + by, 0, 127) } };
  }
  if (grip === 'left') return { ...zone, keys: { ...keys, low: within(keys.low + keysBy, 0, keys.high) } };
  if (grip === 'right') return { ...zone, keys: { ...keys, high: within(keys.high + keysBy, keys.low, 127) } };
  if (grip === 'top') {
    return { ...zone, velocities: { ...velocities, high: within(velocities.high + stepsBy, velocities.low, 127) } };
  }
  return { ...zone, velocities: { ...velocities, low: within(velocities.low + stepsBy, 1, velocities.high) } };
}

/** Whole octaves around what is laid, at most so many keys, that hold a key. */
export function tableRange(zones: readonly { keys: Keys }[], startKey: number, mostKeys = 48): KeyRange {
  const lowest = Math.min(startKey, ...zones.map(({ keys }) => keys.low));
  const highest = Math.max(startKey + 23, ...zones.map(({ keys }) => keys.high));
  const lowNote = Math.floor(lowest / 12) * 12;
  const octaves = Math.max(2, Math.min(mostKeys / 12, Math.ceil((highest - lowNote + 1) / 12)));
  const low = Math.max(0, Math.min(lowNote, 120 - (octaves - 1) * 12));
  return { lowNote: low, keyCount: Math.min(octaves * 12, 128 - low) };
}
