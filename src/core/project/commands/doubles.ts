/** Doubles of a part: another of its sounds under chosen hits, or in their place. */
import { withoutDangling } from '../../document/references.ts';
import { findDouble } from '../../document/owners.ts';
import type { Double, Part, ProjectDocument } from '../../document/schema.ts';
import { done, find, refused, withPart, type Command, type CommandResult } from './command.ts';

const MOST_DOUBLES = 64;
const GONE = 'this double is gone';

/** Why a sound cannot lie under hits, in words; null when it can. */
function problemOf(part: Part, zoneIds: readonly string[], soundId: string): string | null {
  if (zoneIds.length === 0) return 'choose the hits that are to be doubled';
  if (![soundId, ...zoneIds].every((id) => part.zoneOrder.includes(id)))
    return 'one of these sounds is not in this part';
  return zoneIds.includes(soundId) ? 'a hit is not doubled by itself: choose another sound' : null;
}

/** Others give up hits that are doubled anew. */
function withoutHits(doubles: readonly Double[], zoneIds: readonly string[]): Double[] {
  return doubles.flatMap((one) => {
    const left = one.zoneIds.filter((id) => !zoneIds.includes(id));
    if (left.length === 0) return [];
    return [left.length === one.zoneIds.length ? one : { ...one, zoneIds: left }];
  });
}

/** Puts a sound of a part under hits of it. */
export const addDouble: Command<{ partId: string; zoneIds: readonly string[]; soundId: string; name: string }> = (
  document,
  { partId, zoneIds, soundId, name },
  env,
) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const problem = problemOf(part, zoneIds, soundId);
  if (problem) return refused(problem);
  const others = withoutHits(part.doubles ?? [], zoneIds);
  if (others.length >= MOST_DOUBLES) return refused(`a part has ${MOST_DOUBLES} doubles at most: give one up first`);
  const made: Double = {
    id: env.newId(),
    name: name.trim().slice(0, 200) || 'double',
    zoneIds: [...new Set(zoneIds)],
    soundId,
    values: {},
  };
  return swept(withPart(document, partId, (one) => ({ ...one, doubles: [...others, made] })));
};

/** What hung on doubles that are gone goes, too. */
function swept(result: CommandResult): CommandResult {
  return result.ok ? done(withoutDangling(result.document)) : result;
}

function withDouble(
  document: ProjectDocument,
  doubleId: string,
  change: (double: Double, part: Part) => Double | string,
): CommandResult {
  const found = findDouble(document, doubleId);
  if (!found) return refused(GONE);
  const changed = change(found.double, found.part);
  if (typeof changed === 'string') return refused(changed);
  return withPart(document, found.part.id, (part) => {
    const others = withoutHits(
      part.doubles!.filter(({ id }) => id !== doubleId),
      changed.zoneIds,
    );
    const kept = new Map(others.map((one) => [one.id, one]));
    const doubles = part.doubles!.flatMap(({ id }) => (id === doubleId ? [changed] : (kept.get(id) ?? [])));
    return { ...part, doubles };
  });
}

/** Other hits for a double; another one gives up those that it had. */
export const setDoubleHits: Command<{ doubleId: string; zoneIds: readonly string[] }> = (
  document,
  { doubleId, zoneIds },
) =>
  swept(
    withDouble(
      document,
      doubleId,
      (double, part) => problemOf(part, zoneIds, double.soundId) ?? { ...double, zoneIds: [...new Set(zoneIds)] },
    ),
  );

/** Another sound under the same hits. */
export const setDoubleSound: Command<{ doubleId: string; soundId: string }> = (document, { doubleId, soundId }) =>
  withDouble(document, doubleId, (double, part) => problemOf(part, double.zoneIds, soundId) ?? { ...double, soundId });

/** Lets a double be heard through a bus, and so through a chain of its own; null: with its part. */
export const leadDouble: Command<{ doubleId: string; channelId: string | null }> = (
  document,
  { doubleId, channelId },
) =>
  withDouble(document, doubleId, ({ channelId: _, ...double }) => {
    if (channelId === null) return double;
    return find(document.channels, channelId)?.kind === 'bus' ? { ...double, channelId } : 'this bus is gone';
  });

export const renameDouble: Command<{ doubleId: string; name: string }> = (document, { doubleId, name }) =>
  withDouble(document, doubleId, (double) => {
    const trimmed = name.trim().slice(0, 200);
    return trimmed ? { ...double, name: trimmed } : 'a double has a name';
  });

/** The hits are as they were. */
export const removeDouble: Command<{ doubleId: string }> = (document, { doubleId }) => {
  const found = findDouble(document, doubleId);
  if (!found) return refused('this double is gone already');
  return swept(
    withPart(document, found.part.id, ({ doubles = [], ...part }) => {
      const left = doubles.filter(({ id }) => id !== doubleId);
      return left.length > 0 ? { ...part, doubles: left } : part;
    }),
  );
};
