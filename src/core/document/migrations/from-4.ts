/**
 * Version 4 to 5: strips may press the key of their sound; sends are records; a main channel that all come to; routes say
 * whose setting they move; what could not be heard as it was written is set right.
 */
import { mixOf4 } from './mix-4.ts';
import { repairedCut, repairedModulator, repairedZone, partWithSoundSwitches, routeWithTarget } from './repairs-4.ts';

type Json = Record<string, unknown>;
type Table = Record<string, Json>;

const mapped = (table: Table, change: (record: Json) => Json): Table =>
  Object.fromEntries(Object.entries(table ?? {}).map(([id, record]) => [id, change(record)]));

export function from4(json: unknown): unknown {
  const document = json as Json & {
    sources: Table;
    parts: Table;
    cuts: Table;
    zones: Table;
    modulators: Table;
    routes: Table;
  };
  const framesOf = (cutId: unknown) => Number(document.sources[String(document.cuts[String(cutId)]?.sourceId)]?.frames);
  return {
    ...document,
    schemaVersion: 5,
    parts: mapped(document.parts, partWithSoundSwitches),
    cuts: mapped(document.cuts, (cut) => repairedCut(cut, framesOf(cut.id))),
    zones: mapped(document.zones, (zone) => repairedZone(zone, framesOf((zone.plays as Json).cutId))),
    modulators: mapped(document.modulators, repairedModulator),
    routes: mapped(document.routes, routeWithTarget),
    ...mixOf4(document),
  };
}

/** The same of a kit. */
export function kitFrom4(json: unknown): unknown {
  const kit = json as Json & { sources: Table; cuts: Json[]; zones: Json[]; modulators: Json[]; routes: Json[] };
  const framesOf = (cutId: unknown) =>
    Number(kit.sources[String(kit.cuts.find(({ id }) => id === cutId)?.sourceId)]?.frames);
  return {
    ...kit,
    schemaVersion: 5,
    cuts: kit.cuts.map((cut) => repairedCut(cut, framesOf(cut.id))),
    zones: kit.zones.map((zone) => repairedZone(zone, framesOf((zone.plays as Json).cutId))),
    modulators: kit.modulators.map(repairedModulator),
    routes: kit.routes.map(routeWithTarget),
  };
}
