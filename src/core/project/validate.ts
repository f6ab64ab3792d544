/**
 * Opens documents from outside, and checks changed ones: schema, migrations, and the rules that a schema cannot say. What
 * has not changed is not checked again, so that checking costs what changed.
 */
import type * as z from 'zod/mini';
import { AppError } from '../units/errors.ts';
import { isSameList } from '../queries/zones.ts';
import { changedKeys, ownRecord } from './changed-keys.ts';
import { migrate } from './migrations/index.ts';
import {
  cutIdOfHome,
  HEAD,
  isEvent,
  patternEvent,
  projectDocument,
  SCHEMA_VERSION,
  TABLES,
  type Cut,
  type Part,
  type Pattern,
  type PatternEvent,
  type ProjectDocument,
  type TableName,
} from './schema.ts';

/**
 * Turns parsed JSON of any known version into a valid document.
 * @throws AppError `document.newer` for a version that this program does not know, `document.invalid` otherwise
 */
export function openDocument(json: unknown): ProjectDocument {
  const parsed = projectDocument.safeParse(migrate(json, versionOf(json), SCHEMA_VERSION));
  if (!parsed.success) throw invalid(issueWords(parsed.error));
  const document = parsed.data as unknown as ProjectDocument;
  const problem = firstBrokenRule(document, null);
  if (problem) throw invalid(problem);
  return document;
}

/** @throws AppError `document.newer`, or `document.invalid` for what has no version */
export function versionOf(json: unknown): number {
  const version = (json as { schemaVersion?: unknown } | null)?.schemaVersion;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    throw invalid('this is not a project: it has no schemaVersion');
  }
  if (version > SCHEMA_VERSION) {
    throw new AppError('document.newer', `the project was made by a newer version (schema ${version})`, {
      version,
      known: SCHEMA_VERSION,
    });
  }
  return version;
}

function invalid(message: string): AppError {
  return new AppError('document.invalid', message);
}

function issueWords(error: z.core.$ZodError, where: readonly PropertyKey[] = []): string {
  const issue = error.issues[0]!;
  return `${[...where, ...issue.path].join('.') || 'document'}: ${issue.message}`;
}

/**
 * What is wrong with a document that comes from a valid one, in words; null when it is valid. Only records that are others
 * than before are looked at, and what refers to them.
 */
export function problemOfChange(before: ProjectDocument, after: ProjectDocument): string | null {
  for (const key of Object.keys(after)) {
    if (!Object.hasOwn(HEAD, key) && !Object.hasOwn(TABLES, key)) return `document: there is no "${key}" in a project`;
  }
  for (const [key, schema] of Object.entries(HEAD)) {
    if (before[key as keyof typeof HEAD] === after[key as keyof typeof HEAD]) continue;
    const parsed = schema.safeParse(after[key as keyof typeof HEAD]);
    if (!parsed.success) return issueWords(parsed.error, [key]);
  }
  for (const table of Object.keys(TABLES) as TableName[]) {
    const problem = tableProblem(table, before, after);
    if (problem) return problem;
  }
  return firstBrokenRule(after, before);
}

function tableProblem(table: TableName, before: ProjectDocument, after: ProjectDocument): string | null {
  const records = after[table] as Record<string, object> | undefined;
  if (before[table] === records) return null;
  if (typeof records !== 'object' || records === null || Array.isArray(records)) return `${table}: this is no table`;
  const known = before[table] as Record<string, object>;
  for (const key of changedKeys(known, records)) {
    if (!Object.hasOwn(records, key)) continue;
    const old = ownRecord(known, key);
    const problem =
      table === 'patterns'
        ? patternProblem(old as Pattern | undefined, records[key] as Pattern)
        : schemaProblem(TABLES[table], records[key], [table, key]);
    if (problem) return problem;
  }
  return null;
}

function schemaProblem(schema: z.ZodMiniType, value: unknown, where: string[]): string | null {
  const parsed = schema.safeParse(value);
  return parsed.success ? null : issueWords(parsed.error, where);
}

/** Of thousands of events only those that changed are looked at. */
function patternProblem(old: Pattern | undefined, pattern: Pattern): string | null {
  const where = ['patterns', String(pattern?.id)];
  if (!old || typeof pattern !== 'object' || typeof pattern?.events !== 'object' || pattern.events === null) {
    return schemaProblem(TABLES.patterns, pattern, where);
  }
  const settled = {
    events: {},
    ground: pattern.ground === old.ground || pattern.ground === old.events ? null : pattern.ground,
    hands: pattern.hands === old.hands ? {} : withoutSoundEvents(changedOnly(old.hands, pattern.hands)),
  };
  const problem = schemaProblem(TABLES.patterns, { ...pattern, ...settled }, where);
  if (problem) return problem;
  for (const key of changedKeys(old.events, pattern.events)) {
    if (!Object.hasOwn(pattern.events, key)) continue;
    const event = pattern.events[key]!;
    if (isEvent(event)) continue;
    const found = schemaProblem(patternEvent, event, [...where, 'events', key]);
    if (found) return found;
  }
  return null;
}

/** Hands without the events in them that are beyond doubt: there may be thousands in each. */
function withoutSoundEvents(hands: Pattern['hands']): Pattern['hands'] {
  if (typeof hands !== 'object' || hands === null) return hands;
  return Object.fromEntries(
    Object.entries(hands).map(([key, hand]) => {
      if (typeof hand?.differs !== 'object' || hand.differs === null) return [key, hand];
      const doubtful = Object.entries(hand.differs).filter(
        ([name, event]) => name in Object.prototype || (event !== null && !isEvent(event)),
      );
      return [key, { ...hand, differs: Object.fromEntries(doubtful) }];
    }),
  );
}

function changedOnly<T>(old: Record<string, T>, now: Record<string, T>): Record<string, T> {
  if (typeof now !== 'object' || now === null) return now;
  return Object.fromEntries(Object.entries(now).filter(([key, value]) => old[key] !== value));
}

/** The first broken rule between tables, in words; null when all hold. */
export function brokenRule(document: ProjectDocument): string | null {
  return firstBrokenRule(document, null);
}

/** @param before what is the same there holds already */
function firstBrokenRule(document: ProjectDocument, before: ProjectDocument | null): string | null {
  const { parts, partOrder } = document;
  for (const table of Object.keys(TABLES) as TableName[]) {
    const records = document[table] as Record<string, { id: string }>;
    if (before?.[table] === records) continue;
    for (const [key, record] of Object.entries(records)) {
      if (record.id !== key) return `${table}.${key}: its id is ${record.id}`;
    }
  }
  if (!before || partOrder !== before.partOrder || parts !== before.parts) {
    if (!sameMembers(partOrder, Object.keys(parts))) return 'partOrder does not list every part once';
  }
  const channelsChanged = !before || before.channels !== document.channels || before.effects !== document.effects;
  if (channelsChanged) {
    const problem = brokenChannelRule(document);
    if (problem) return problem;
  }
  const isOther = (table: TableName, key: string) => !before || before[table]?.[key] !== document[table][key];
  if (!before || isStructureOther(before, document)) {
    const problem = brokenStructureRule(document);
    if (problem) return problem;
  }
  for (const cut of Object.values(document.cuts)) {
    if (!isOther('cuts', cut.id) && !isOther('sources', cut.sourceId)) continue;
    const problem = brokenCutRule(document, cut);
    if (problem) return problem;
  }
  for (const pattern of Object.values(document.patterns)) {
    const zonesChanged = !before || before.parts[pattern.partId]?.zoneOrder !== parts[pattern.partId]?.zoneOrder;
    const old = zonesChanged ? null : (before!.patterns[pattern.id] ?? null);
    if (old === pattern) continue;
    const problem = brokenPatternRule(document, pattern, old);
    if (problem) return problem;
  }
  return brokenModulationRule(document);
}

/** Has anything changed of what belongs to what? Mere values have not. */
function isStructureOther(before: ProjectDocument, document: ProjectDocument): boolean {
  if (before.parts !== document.parts || before.channels !== document.channels || before.cuts !== document.cuts)
    return true;
  const isSame = <T>(a: Record<string, T>, b: Record<string, T>, same: (a: T, b: T) => boolean) => {
    if (a === b) return true;
    const keys = Object.keys(b);
    if (keys.length !== Object.keys(a).length) return false;
    return keys.every((key) => Object.hasOwn(a, key) && (a[key] === b[key] || same(a[key]!, b[key]!)));
  };
  return !(
    isSame(before.zones, document.zones, (a, b) => a.plays === b.plays && a.partId === b.partId) &&
    isSame(before.patterns, document.patterns, (a, b) => a.partId === b.partId)
  );
}

function brokenStructureRule(document: ProjectDocument): string | null {
  const owners = ownersByTable(document);
  if (typeof owners === 'string') return owners;
  for (const part of Object.values(document.parts)) {
    if (!ownRecord(document.channels, part.channelId))
      return `part ${part.id} plays through the unknown channel ${part.channelId}`;
    const problem =
      brokenListRule(part, 'cutOrder', owners.cuts) ??
      brokenListRule(part, 'zoneOrder', owners.zones) ??
      brokenListRule(part, 'patternOrder', owners.patterns);
    if (problem) return problem;
    const homeOf = cutIdOfHome(part.activePatternId);
    if (homeOf === null ? !part.patternOrder.includes(part.activePatternId) : !part.cutOrder.includes(homeOf)) {
      return `part ${part.id} plays the unknown pattern ${part.activePatternId}`;
    }
    const switchProblem = brokenSwitchRule(part);
    if (switchProblem) return switchProblem;
  }
  for (const zone of Object.values(document.zones)) {
    const cut = ownRecord(document.cuts, zone.plays.cutId);
    const { sliceId } = zone.plays;
    if (cut?.partId !== zone.partId || (sliceId !== null && !ownRecord(cut.slices, sliceId))) {
      return `zone ${zone.id} plays the unknown ${sliceId === null ? 'loop' : `slice ${sliceId}`}`;
    }
  }
  return null;
}

function brokenSwitchRule({ id, switches = [], treatments = [], patternOrder, cutOrder }: Part): string | null {
  const places = switches.map(({ key, control }) => (key === null ? `controller ${control}` : `key ${key}`));
  if (new Set(places).size < places.length) return `part ${id} has two switches in one place`;
  const ids = treatments.map((one) => one.id);
  if (new Set(ids).size < ids.length) return `part ${id} has two treatments of one id`;
  for (const [index, { does, patternId, treatmentId, zoneId }] of switches.entries()) {
    const homeOf = patternId === null ? null : cutIdOfHome(patternId);
    const isThere = homeOf === null ? patternOrder.includes(patternId ?? '') : cutOrder.includes(homeOf);
    if (does === 'pattern' ? !isThere : patternId !== null)
      return `part ${id} switches to an unknown pattern on ${places[index]}`;
    if (does === 'treatment' ? !ids.includes(treatmentId ?? '') : treatmentId !== undefined)
      return `part ${id} switches to an unknown treatment on ${places[index]}`;
    if ((does === 'mute') !== (zoneId !== undefined)) return `part ${id} mutes an unknown sound on ${places[index]}`;
  }
  return null;
}

/** The records of each part, by the part's id; or what is wrong in words. */
function ownersByTable(document: ProjectDocument) {
  const result = {
    cuts: new Map<string, string[]>(),
    zones: new Map<string, string[]>(),
    patterns: new Map<string, string[]>(),
  };
  for (const table of ['cuts', 'zones', 'patterns'] as const) {
    for (const record of Object.values(document[table]) as { id: string; partId: string }[]) {
      if (!ownRecord(document.parts, record.partId))
        return `${table}.${record.id} belongs to the unknown part ${record.partId}`;
      const list = result[table].get(record.partId);
      if (list) list.push(record.id);
      else result[table].set(record.partId, [record.id]);
    }
  }
  return result;
}

function brokenListRule(
  part: Part,
  list: 'cutOrder' | 'zoneOrder' | 'patternOrder',
  owned: ReadonlyMap<string, readonly string[]>,
): string | null {
  return sameMembers(part[list], owned.get(part.id) ?? [])
    ? null
    : `part ${part.id} does not list each of its own once in ${list}`;
}

function brokenCutRule({ sources }: ProjectDocument, cut: Cut): string | null {
  const source = ownRecord(sources, cut.sourceId);
  if (!source) return `cut ${cut.id} plays the unknown source ${cut.sourceId}`;
  if (cut.loop && cut.loop.endFrame > source.frames) return `the loop of cut ${cut.id} ends after its source`;
  if (Object.keys(cut.slices).length === 0) return `cut ${cut.id} has no slice`;
  for (const [key, slice] of Object.entries(cut.slices)) {
    if (slice.id !== key) return `slice ${key} of cut ${cut.id}: its id is ${slice.id}`;
    if (slice.startFrame >= source.frames) return `slice ${key} starts after its source`;
    if (slice.endFrame !== null && (slice.endFrame <= slice.startFrame || slice.endFrame > source.frames)) {
      return `slice ${key} ends before its start or after its source`;
    }
  }
  return null;
}

function brokenPatternRule(document: ProjectDocument, pattern: Pattern, old: Pattern | null): string | null {
  const problem = (events: Record<string, PatternEvent | null>, known?: Record<string, PatternEvent | null>) => {
    for (const key of known ? changedKeys(known, events) : Object.keys(events)) {
      const event = ownRecord(events, key);
      if (!event) continue;
      if (event.id !== key) return `an event of pattern ${pattern.id} stands under another id than its own`;
      if (ownRecord(document.zones, event.zoneId)?.partId !== pattern.partId) {
        return `an event of pattern ${pattern.id} plays the unknown zone ${event.zoneId}`;
      }
    }
    return null;
  };
  const inEvents = problem(pattern.events, old?.events);
  if (inEvents) return inEvents;
  if (pattern.ground && pattern.ground !== old?.ground && pattern.ground !== old?.events) {
    const inGround = problem(pattern.ground);
    if (inGround) return inGround;
  }
  if (pattern.hands !== old?.hands) {
    for (const [key, hand] of Object.entries(pattern.hands)) {
      if (hand.id !== key) return `a hand of pattern ${pattern.id} stands under another id than its own`;
      if (old?.hands[key] === hand) continue;
      const inHand = problem(hand.differs);
      if (inHand) return inHand;
    }
  }
  if (!sameMembers(pattern.handOrder, Object.keys(pattern.hands))) return `pattern ${pattern.id} has lost a hand`;
  if (pattern.handId !== null && !ownRecord(pattern.hands, pattern.handId))
    return `pattern ${pattern.id} shows an unknown hand`;
  if (pattern.handOrder.length > 0 && !pattern.ground) return `pattern ${pattern.id} has hands and no ground`;
  return null;
}

function brokenChannelRule({ channels, effects }: ProjectDocument): string | null {
  const placed = Object.values(channels).flatMap((channel) => channel.effectOrder);
  if (!sameMembers(placed, Object.keys(effects))) return 'an effect stands in no channel, or in two';
  for (const channel of Object.values(channels)) {
    for (const { channelId } of channel.sends) {
      if (!ownRecord(channels, channelId)) return `channel ${channel.id} sends to the unknown channel ${channelId}`;
    }
  }
  for (const { id, sideChannelId } of Object.values(effects)) {
    if (sideChannelId !== null && !ownRecord(channels, sideChannelId))
      return `effect ${id} listens to an unknown channel`;
  }
  return circleOfSends(channels);
}

/** Signals may not come back to where they were: depth-first search with three colours. */
function circleOfSends(channels: ProjectDocument['channels']): string | null {
  const state = new Map<string, 'open' | 'done'>();
  const visit = (id: string): boolean => {
    if (state.get(id) === 'open') return true;
    if (state.get(id) === 'done') return false;
    state.set(id, 'open');
    const isCircle = channels[id]!.sends.some(({ channelId }) => visit(channelId));
    state.set(id, 'done');
    return isCircle;
  };
  const found = Object.keys(channels).find((id) => visit(id));
  return found === undefined ? null : `the sends of channel ${found} lead back to it`;
}

function brokenModulationRule({ modulators, routes, zones, parts }: ProjectDocument): string | null {
  for (const { id, ownerId } of Object.values(modulators)) {
    if (!ownRecord(zones, ownerId) && !ownRecord(parts, ownerId))
      return `modulator ${id} belongs to the unknown ${ownerId}`;
  }
  for (const { id, modulatorId } of Object.values(routes)) {
    if (!ownRecord(modulators, modulatorId)) return `route ${id} comes from the unknown modulator ${modulatorId}`;
  }
  return null;
}

function sameMembers(a: readonly string[], b: readonly string[]): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  if (isSameList(a, b)) return new Set(a).size === a.length;
  const members = new Set(a);
  return members.size === a.length && b.every((item) => members.has(item));
}
