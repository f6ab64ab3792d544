/** What a deal knows beside the events that it deals, and which of them take part. */
import type { DealValues } from '../../params/deal-rows.ts';
import type { PatternEvent } from '../../document/schema.ts';

export interface DealSettings {
  seed: number;
  /** Share of the free steps that take part, 0..100. */
  reachPercent: number;
}

/** A sound that may be dealt. */
export interface DealSound {
  zoneId: string;
  role: string;
  /** How often it comes against others; 0 is left out. */
  weight: number;
}

/** What a deal knows of the pattern beside its events. */
export interface DealTable {
  /** The sounds of the part, those that are left out, too. */
  sounds: readonly DealSound[];
  lengthTicks: number;
  barTicks: number;
  /** What is counted: as long as the first beat of a bar lasts. */
  beatTicks: number;
  /** An event before dealing; undefined for one that came later. */
  plainOf: (id: string) => PatternEvent | undefined;
  /** Events that may take part; null: all. */
  onlyIds: ReadonlySet<string> | null;
  /** Orders of sounds to learn from: of the loop itself, and of the starred hands. */
  learnFrom: { home: readonly (readonly string[])[]; starred: readonly (readonly string[])[] };
}

export const BARE_TABLE: DealTable = {
  sounds: [],
  lengthTicks: Infinity,
  barTicks: 3840,
  beatTicks: 960,
  plainOf: () => undefined,
  onlyIds: null,
  learnFrom: { home: [], starred: [] },
};

/** Sooner than this before a line a step is on it: a loop's own feel is a little early or late. */
export const EARLY_TICKS = 60;

const soundsOf = new WeakMap<readonly DealSound[], ReadonlyMap<string, DealSound>>();

/** A sound by its zone. */
export function soundOf({ sounds }: DealTable, zoneId: string): DealSound | undefined {
  let byId = soundsOf.get(sounds);
  if (!byId) soundsOf.set(sounds, (byId = new Map(sounds.map((sound) => [sound.zoneId, sound]))));
  return byId.get(zoneId);
}

/** Does an event take part under these rules? */
export function isFreeStep(event: PatternEvent, rules: DealValues, table: DealTable): boolean {
  const { id, zoneId, positionTicks, values } = event;
  if (values.hold || (table.onlyIds && !table.onlyIds.has(id))) return false;
  const sound = soundOf(table, zoneId);
  if (sound?.weight === 0) return false;
  if ((rules.keepsKicks && sound?.role === 'kick') || (rules.keepsSnares && sound?.role === 'snare')) return false;
  const ticks = positionTicks + EARLY_TICKS;
  if (rules.keepsFirstBeats && ticks % table.barTicks < table.beatTicks) return false;
  if (rules.keepsFirstBar && ticks < table.barTicks) return false;
  return !(rules.keepsLastBar && ticks >= table.lengthTicks - table.barTicks && ticks < table.lengthTicks);
}
