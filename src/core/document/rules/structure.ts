/** What belongs to what: parts list each of their own once, play through channels that are there, and switch to what is theirs. */
import { ownRecord } from '../changed-keys.ts';
import { cutIdOfHome } from '../home-id.ts';
import { partIdOfPattern } from '../pattern-part.ts';
import type { Part, ProjectDocument } from '../schema.ts';
import { sameMembers } from './members.ts';

/** Has anything changed of what belongs to what? Mere values have not. */
export function isStructureOther(before: ProjectDocument, document: ProjectDocument): boolean {
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
    isSame(before.patterns, document.patterns, (a, b) => a.partId === b.partId) &&
    isSame(before.helpers, document.helpers, (a, b) => a.partId === b.partId)
  );
}

export function brokenStructureRule(document: ProjectDocument): string | null {
  const owners = ownersByTable(document);
  if (typeof owners === 'string') return owners;
  for (const part of Object.values(document.parts)) {
    if (!ownRecord(document.channels, part.channelId))
      return `part ${part.id} plays through the unknown channel ${part.channelId}`;
    const problem =
      brokenListRule(part, 'cutOrder', owners.cuts) ??
      brokenListRule(part, 'zoneOrder', owners.zones) ??
      brokenListRule(part, 'patternOrder', owners.patterns) ??
      brokenListRule(part, 'helperOrder', owners.helpers);
    if (problem) return problem;
    const homeOf = cutIdOfHome(part.activePatternId);
    if (homeOf === null ? !part.patternOrder.includes(part.activePatternId) : !part.cutOrder.includes(homeOf)) {
      return `part ${part.id} plays the unknown pattern ${part.activePatternId}`;
    }
    const switchProblem = brokenSwitchRule(part) ?? brokenDoubleRule(part) ?? brokenChangeRule(document, part);
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

function brokenSwitchRule({
  id,
  switches = [],
  treatments = [],
  patternOrder,
  cutOrder,
  zoneOrder,
}: Part): string | null {
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
    if (does === 'mute' ? !zoneOrder.includes(zoneId ?? '') : zoneId !== undefined)
      return `part ${id} mutes an unknown sound on ${places[index]}`;
  }
  return null;
}

function brokenChangeRule(
  document: ProjectDocument,
  { id, treatments = [], treatmentChanges = {} }: Part,
): string | null {
  for (const [patternId, changes] of Object.entries(treatmentChanges)) {
    if (partIdOfPattern(document, patternId) !== id) return `part ${id} changes over the unknown pattern ${patternId}`;
    for (const [place, { at, treatmentId }] of changes.entries()) {
      if (place > 0 && at <= changes[place - 1]!.at) return `the changes over pattern ${patternId} are not in order`;
      if (treatmentId !== undefined && !treatments.some((one) => one.id === treatmentId))
        return `pattern ${patternId} puts the unknown treatment ${treatmentId} on`;
    }
  }
  return null;
}

function brokenDoubleRule({ id, doubles = [], zoneOrder }: Part): string | null {
  const there = new Set(zoneOrder);
  const doubled = new Set<string>();
  const ids = new Set<string>();
  for (const { id: doubleId, zoneIds, soundId } of doubles) {
    if (ids.has(doubleId)) return `part ${id} has two doubles of one id`;
    ids.add(doubleId);
    if (!there.has(soundId) || zoneIds.includes(soundId))
      return `double ${doubleId} has no sound of part ${id} for its hits`;
    for (const zoneId of zoneIds) {
      if (!there.has(zoneId)) return `double ${doubleId} lies under the unknown zone ${zoneId}`;
      if (doubled.has(zoneId)) return `zone ${zoneId} of part ${id} is doubled twice`;
      doubled.add(zoneId);
    }
  }
  return null;
}

/** The records of each part, by the part's id; or what is wrong in words. */
function ownersByTable(document: ProjectDocument) {
  const result = {
    cuts: new Map<string, string[]>(),
    zones: new Map<string, string[]>(),
    patterns: new Map<string, string[]>(),
    helpers: new Map<string, string[]>(),
  };
  for (const table of ['cuts', 'zones', 'patterns', 'helpers'] as const) {
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
  list: 'cutOrder' | 'zoneOrder' | 'patternOrder' | 'helperOrder',
  owned: ReadonlyMap<string, readonly string[]>,
): string | null {
  return sameMembers(part[list], owned.get(part.id) ?? [])
    ? null
    : `part ${part.id} does not list each of its own once in ${list}`;
}
