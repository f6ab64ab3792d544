/** Patterns as notes of a keyboard, and notes as strips of a part. */
import type { Role } from '../analysis/role-names.ts';
import { repeatsOf } from '../strips/repeats.ts';
import { textHash } from '../units/hash.ts';
import { EVENT_ROWS } from '../params/tables.ts';
import type { Part, PatternEvent, ProjectDocument } from '../document/schema.ts';
import { eventsOf, eventsOfHand, orderedEvents, patternLengthTicks } from './patterns.ts';
import { agreedKey, percussionOfKey } from './percussion-keys.ts';
import { eventValues, zoneValues } from './values.ts';
import { zonesOfPart, type PlacedZone } from './zones.ts';

/** Root of a sound that lies on no key. */
const MIDDLE_NOTE = 60;
const { min, max } = EVENT_ROWS.tuneCents;

export interface KeyNote {
  key: number;
  /** 0..1 */
  velocity: number;
  positionTicks: number;
  lengthTicks: number;
}

/** A note with all that says when and how it is heard. */
export interface PatternStart extends KeyNote {
  /** Of the strip and its repeat. */
  gainDb: number;
  /** See strips/comes-up.ts. */
  chancePercent: number;
  everyRounds: number;
  seed: number;
}

/** Which keys the sounds of a part lie on in a file: their own, or those that drums have by agreement, by their roles. */
export type NoteKeys = 'own' | 'drums';

/** The key of each sound of a part by agreement, by the ids of zones; sounds of one slice share it. */
function drumKeys(placed: readonly PlacedZone[]): Map<string, number> {
  const seen = new Map<Role, string[]>();
  return new Map(
    placed.flatMap(({ zone, at: { slice } }) => {
      const alike = seen.get(slice.role) ?? [];
      if (!alike.includes(slice.id)) alike.push(slice.id);
      seen.set(slice.role, alike);
      const key = agreedKey(slice.role, alike.indexOf(slice.id));
      return key === null ? [] : [[zone.id, key] as const];
    }),
  );
}

/** Those of a part that are not silenced. */
function heardZones(placed: readonly PlacedZone[]): ReadonlySet<string> {
  const values = placed.map(({ zone }) => ({ id: zone.id, ...zoneValues(zone) }));
  const hasSolo = values.some(({ soloed }) => soloed);
  return new Set(values.filter(({ soloed, muted }) => (hasSolo ? soloed : !muted)).map(({ id }) => id));
}

/**
 * A pattern of a part as notes: each strip on the key of its sound, repeats spread out, a sound that lies over several
 * keys as much higher as its strip is tuned. What lies on no key, and what is never heard, is left out.
 * @param handId another hand of the pattern than the one on its table; null for what lies there
 * @param on the keys that its sounds lie on
 * @returns notes by position as they are written, and how many strips lie on no key
 */
export function patternNotes(
  document: ProjectDocument,
  part: Part,
  patternId: string,
  handId: string | null = null,
  on: NoteKeys = 'own',
): { notes: PatternStart[]; without: number } {
  const placed = zonesOfPart(document, part);
  const heard = heardZones(placed);
  const zoneById = new Map(placed.map((one) => [one.zone.id, one]));
  const agreed = on === 'drums' ? drumKeys(placed) : null;
  const endTicks = patternLengthTicks(document, patternId);
  const notes: PatternStart[] = [];
  let without = 0;
  const pattern = document.patterns[patternId];
  const isOther = pattern && handId !== null && handId !== pattern.handId && pattern.hands[handId];
  const events = isOther ? orderedEvents(eventsOfHand(pattern, handId)) : eventsOf(document, patternId);
  for (const event of events) {
    if (event.positionTicks >= endTicks || (zoneById.has(event.zoneId) && !heard.has(event.zoneId))) continue;
    const drum = agreed?.get(event.zoneId);
    const own = agreed ? null : zoneById.get(event.zoneId)?.keys;
    const keys = drum === undefined ? own : { low: drum, high: drum, root: drum };
    if (!keys) {
      without++;
      continue;
    }
    const values = eventValues(event);
    const { chancePercent, everyRounds } = values;
    if (chancePercent === 0) continue;
    const seed = textHash(event.id);
    for (const { startShare, lengthShare, tuneCents, gainDb } of repeatsOf(values)) {
      const positionTicks = event.positionTicks + event.lengthTicks * startShare;
      const tuned = keys.root + Math.round((values.tuneCents + tuneCents) / 100);
      notes.push({
        key: tuned >= keys.low && tuned <= keys.high ? tuned : keys.root,
        velocity: values.velocity,
        positionTicks,
        lengthTicks: Math.min(event.lengthTicks * lengthShare, endTicks - positionTicks),
        gainDb: values.gainDb + gainDb,
        chancePercent,
        everyRounds,
        seed,
      });
    }
  }
  return { notes: notes.sort((a, b) => a.positionTicks - b.positionTicks || a.key - b.key), without };
}

/**
 * How notes find their sounds: by the key each lies on, by what drums lie on which key by agreement, or all as the notes
 * of one sound.
 */
export type NoteMapping = 'key' | 'role' | 'pitch';

/**
 * Notes as strips of a part.
 * @param soundId of `pitch`: the sound; where it is left out what lies over several keys, or the first
 * @returns the strips, and how many notes no sound was found for
 */
export function notesToStrips(
  document: ProjectDocument,
  part: Part,
  notes: readonly KeyNote[],
  mapping: NoteMapping,
  soundId?: string,
): { strips: Omit<PatternEvent, 'id'>[]; without: number } {
  const placed = zonesOfPart(document, part).filter(({ zone }) => zone.plays.kind === 'slice');
  const sound =
    placed.find(({ zone }) => zone.id === soundId) ??
    placed.find(({ keys }) => keys !== null && keys.high > keys.low) ??
    placed[0];
  const find = mapping === 'pitch' ? () => sound : mapping === 'key' ? byKey(placed) : byRole(placed);
  let without = 0;
  const strips = notes.flatMap(({ key, velocity, positionTicks, lengthTicks }) => {
    const found = find(key, velocity);
    if (!found) {
      without++;
      return [];
    }
    const { zone, keys } = found;
    const isSpread = keys !== null && keys.high > keys.low && zoneValues(zone).followsKey;
    const root = keys?.root ?? MIDDLE_NOTE;
    const isTuned = (mapping === 'pitch' || (mapping === 'key' && isSpread)) && key !== root;
    const tuneCents = Math.max(min, Math.min(max, (key - root) * 100));
    const onKey = mapping === 'key' ? { onKey: true } : {};
    const values = isTuned ? { velocity, ...onKey, tuneCents } : { velocity, ...onKey };
    return [{ zoneId: zone.id, positionTicks, lengthTicks, values }];
  });
  return { strips, without };
}

function byKey(placed: readonly PlacedZone[]) {
  return (key: number, velocity: number) => {
    const there = placed.filter(({ keys }) => keys !== null && keys.low <= key && key <= keys.high);
    const strength = Math.round(velocity * 127);
    return (
      there.find(
        ({
          zone: {
            velocities: { low, high },
          },
        }) => low <= strength && strength <= high,
      ) ?? there[0]
    );
  };
}

/** The place of a key among those of its role says which of several sounds of the role it is. */
function byRole(placed: readonly PlacedZone[]) {
  const byName = new Map<Role, PlacedZone[]>();
  for (const one of placed) {
    const { role } = one.at.slice;
    byName.set(role, [...(byName.get(role) ?? []), one]);
  }
  return (key: number) => {
    const { role, place } = percussionOfKey(key) ?? {};
    const sounds = role === undefined ? undefined : byName.get(role);
    return sounds?.[(place ?? 0) % sounds.length];
  };
}
