/**
 * Which records name which, declared once with what happens when the one that is named goes. Commands take records away;
 * what hung on them follows from here.
 */
import { cutIdOfHome } from './home-id.ts';
import { partIdOfPattern } from './pattern-part.ts';
import { findDouble, OWNER_TABLES, tableOfTarget } from './owners.ts';
import type {
  Double,
  KeySwitch,
  MappingTarget,
  Modulator,
  Part,
  ProjectDocument,
  RouteTarget,
  TableName,
} from './schema.ts';

interface Reference<Name extends TableName> {
  in: Name;
  /** Tables that it may be in, and its id there; null for what names nothing. */
  names(
    record: ProjectDocument[Name][string],
    document: ProjectDocument,
  ): { tables: readonly TableName[]; id: string | null };
  /** What is left without it; null: the record goes, too. */
  without(record: ProjectDocument[Name][string]): ProjectDocument[Name][string] | null;
}
const goes = () => null;
const reference = <Name extends TableName>(one: Reference<Name>) => one as unknown as Reference<TableName>;
const inTable = (table: TableName, id: string | null) => ({ tables: [table], id });

const REFERENCES: readonly Reference<TableName>[] = [
  reference({ in: 'cuts', names: ({ partId }) => inTable('parts', partId), without: goes }),
  reference({ in: 'zones', names: ({ partId }) => inTable('parts', partId), without: goes }),
  reference({ in: 'zones', names: ({ plays }) => inTable('cuts', plays.cutId), without: goes }),
  reference({ in: 'patterns', names: ({ partId }) => inTable('parts', partId), without: goes }),
  reference({ in: 'helpers', names: ({ partId }) => inTable('parts', partId), without: goes }),
  reference({ in: 'mappings', names: ({ target }, document) => targetOfMapping(document, target), without: goes }),
  reference({ in: 'modulators', names: ownerOfModulator, without: goes }),
  reference({ in: 'routes', names: ({ modulatorId }) => inTable('modulators', modulatorId), without: goes }),
  reference({ in: 'routes', names: ({ target }, document) => targetOfRoute(document, target), without: goes }),
  reference({ in: 'channels', names: ({ outputId }) => inTable('channels', outputId), without: toMain }),
  reference({ in: 'sends', names: ({ fromChannelId }) => inTable('channels', fromChannelId), without: goes }),
  reference({ in: 'sends', names: ({ toChannelId }) => inTable('channels', toChannelId), without: goes }),
  reference({
    in: 'effects',
    names: ({ sideChannelId }) => inTable('channels', sideChannelId),
    without: (effect) => ({ ...effect, sideChannelId: null }),
  }),
];

/** Of a double, its part: gone with it. */
function targetOfRoute(
  document: ProjectDocument,
  { kind, id }: RouteTarget,
): { tables: readonly TableName[]; id: string | null } {
  const table = tableOfTarget(kind);
  if (table) return inTable(table, id);
  const found = findDouble(document, id!);
  return found ? inTable('parts', found.part.id) : { tables: [], id };
}

/** Whose setting it moves, or on which part it acts. */
function targetOfMapping(
  document: ProjectDocument,
  target: MappingTarget,
): { tables: readonly TableName[]; id: string | null } {
  if (target.kind !== 'setting') return inTable('parts', target.id);
  const { owner, id } = target;
  if (owner === 'song' || id === null) return { tables: [], id: null };
  if (owner === 'double') return targetOfRoute(document, { kind: 'double', id });
  return inTable(owner === 'sounds' ? 'parts' : OWNER_TABLES[owner], id);
}

function ownerOfModulator({ kind, ownerId }: Modulator): { tables: readonly TableName[]; id: string | null } {
  if (kind === 'macro') return { tables: [], id: null };
  if (kind !== 'lane') return { tables: ['zones', 'parts'], id: ownerId };
  const homeOf = cutIdOfHome(ownerId);
  return homeOf === null ? { tables: ['patterns', 'sections'], id: ownerId } : inTable('cuts', homeOf);
}

function toMain(channel: ProjectDocument['channels'][string]): ProjectDocument['channels'][string] {
  return { ...channel, outputId: null };
}

/**
 * The document without records that name what is gone, without sources that no cut plays, effects in no channel, and
 * switches of parts to what they have no more. Tables of which nothing goes stay the same.
 */
export function withoutDangling(document: ProjectDocument): ProjectDocument {
  let current = document;
  for (let isChanged = true; isChanged;) {
    const before = current;
    current = withKnownTreatments(withPatternsPlaced(withSoundDoubles(withoutUnplayed(current))));
    for (const one of REFERENCES) current = followed(current, one);
    isChanged = current !== before;
  }
  return withSoundSwitches(current);
}

function followed(document: ProjectDocument, { in: name, names, without }: Reference<TableName>): ProjectDocument {
  const table = document[name];
  let next: Record<string, unknown> | null = null;
  for (const [key, record] of Object.entries(table)) {
    const { tables, id } = names(record, document);
    if (id === null || tables.some((one) => Object.hasOwn(document[one], id))) continue;
    next ??= { ...table };
    const left = without(record);
    if (left) next[key] = left;
    else delete next[key];
  }
  return next ? { ...document, [name]: next } : document;
}

/** What is there only as long as something names it: a lane as long as it moves something. */
function withoutUnplayed(document: ProjectDocument): ProjectDocument {
  const played = new Set(Object.values(document.cuts).map((cut) => cut.sourceId));
  const placed = new Set(Object.values(document.channels).flatMap((channel) => channel.effectOrder));
  const moving = new Set(Object.values(document.routes).map(({ modulatorId }) => modulatorId));
  const sources = kept(document.sources, played);
  const effects = kept(document.effects, placed);
  const modulators = without(document.modulators, ({ id, kind }) => kind === 'lane' && !moving.has(id));
  const isSame = sources === document.sources && effects === document.effects && modulators === document.modulators;
  return isSame ? document : { ...document, sources, effects, modulators };
}

function without<T>(table: Record<string, T>, isToGo: (record: T) => boolean): Record<string, T> {
  const entries = Object.entries(table).filter(([, record]) => !isToGo(record));
  return entries.length === Object.keys(table).length ? table : Object.fromEntries(entries);
}

function kept<T extends { id: string }>(table: Record<string, T>, ids: ReadonlySet<string>): Record<string, T> {
  return without(table, ({ id }) => !ids.has(id));
}

/** Doubles of what is there: one without its sound, or without hits, goes. */
function withSoundDoubles(document: ProjectDocument): ProjectDocument {
  let { parts } = document;
  for (const part of Object.values(document.parts)) {
    if (!part.doubles) continue;
    const there = new Set(part.zoneOrder);
    const left = part.doubles
      .map((one) => throughBus(document, one))
      .flatMap((one) => {
        const zoneIds = one.zoneIds.filter((id) => there.has(id));
        if (!there.has(one.soundId) || zoneIds.length === 0) return [];
        return [zoneIds.length === one.zoneIds.length ? one : { ...one, zoneIds }];
      });
    if (left.length === part.doubles.length && left.every((one, i) => one === part.doubles![i])) continue;
    const { doubles: _, ...rest } = part;
    parts = { ...parts, [part.id]: left.length > 0 ? { ...rest, doubles: left } : rest };
  }
  return parts === document.parts ? document : { ...document, parts };
}

/** One whose bus is gone is heard with its part. */
function throughBus({ channels }: ProjectDocument, double: Double): Double {
  if (double.channelId === undefined || Object.hasOwn(channels, double.channelId)) return double;
  const { channelId: _, ...withPart } = double;
  return withPart;
}

/** Placings of patterns that are there: those of others go, from every section. */
function withPatternsPlaced(document: ProjectDocument): ProjectDocument {
  const { patterns, cuts } = document;
  let { sections } = document;
  for (const section of Object.values(document.sections)) {
    const placings = section.placings.filter(({ patternId }) => {
      const homeOf = cutIdOfHome(patternId);
      return homeOf === null ? Object.hasOwn(patterns, patternId) : Object.hasOwn(cuts, homeOf);
    });
    if (placings.length === section.placings.length) continue;
    sections = { ...sections, [section.id]: { ...section, placings } };
  }
  return sections === document.sections ? document : { ...document, sections };
}

/**
 * What is placed with a treatment that is gone sounds as its part does by itself; where a pattern changes to one, it
 * changes no more.
 */
export function withKnownTreatments(document: ProjectDocument): ProjectDocument {
  return withKnownChanges(withKnownPlaced(document));
}

function withKnownChanges(document: ProjectDocument): ProjectDocument {
  let { parts } = document;
  for (const part of Object.values(document.parts)) {
    const { treatmentChanges, ...rest } = part;
    if (!treatmentChanges) continue;
    const known = (id: string | undefined) => id === undefined || part.treatments?.some((one) => one.id === id);
    const left = Object.entries(treatmentChanges).flatMap(([patternId, changes]) => {
      const kept = changes.filter(({ treatmentId }) => known(treatmentId));
      const isThere = partIdOfPattern(document, patternId) === part.id && kept.length > 0;
      return isThere ? [[patternId, kept.length === changes.length ? changes : kept] as const] : [];
    });
    const before = Object.entries(treatmentChanges);
    if (left.length === before.length && left.every(([, changes], place) => changes === before[place]![1])) continue;
    const changed = left.length > 0 ? { ...rest, treatmentChanges: Object.fromEntries(left) } : rest;
    parts = { ...parts, [part.id]: changed };
  }
  return parts === document.parts ? document : { ...document, parts };
}

function withKnownPlaced(document: ProjectDocument): ProjectDocument {
  let { sections } = document;
  for (const section of Object.values(document.sections)) {
    const placings = section.placings.map((one) => {
      const { treatmentId, ...plain } = one;
      const isThere = document.parts[one.partId]?.treatments?.some(({ id }) => id === treatmentId);
      return treatmentId === undefined || isThere ? one : plain;
    });
    if (placings.every((one, place) => one === section.placings[place])) continue;
    sections = { ...sections, [section.id]: { ...section, placings } };
  }
  return sections === document.sections ? document : { ...document, sections };
}

function withSoundSwitches(document: ProjectDocument): ProjectDocument {
  let { parts } = document;
  for (const part of Object.values(document.parts)) {
    const left = part.switches?.filter((one) => isOfPart(part, one));
    if (!left || left.length === part.switches!.length) continue;
    const { switches: _, ...rest } = part;
    parts = { ...parts, [part.id]: left.length > 0 ? { ...rest, switches: left } : rest };
  }
  return parts === document.parts ? document : { ...document, parts };
}

/** Does what a switch mutes belong to the part? Patterns and treatments take their switches along themselves. */
function isOfPart({ zoneOrder }: Part, { zoneId }: KeySwitch): boolean {
  return zoneId === undefined || zoneOrder.includes(zoneId);
}
