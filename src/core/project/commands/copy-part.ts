/** A whole part once more: fetched when it is asked for. */
import { cutIdOfHome, homeId } from '../../document/home-id.ts';
import type { Part, Pattern } from '../../document/schema.ts';
import { withModulatorsCopied } from '../modulator-copies.ts';
import { withEventsMoved } from '../slice-zones.ts';
import { done, find, refused, type Command } from './command.ts';

/** A table under other ids; what has none is left out. */
function withKeysRenamed<T>(table: Readonly<Record<string, T>>, ids: ReadonlyMap<string, string>): Record<string, T> {
  return Object.fromEntries(
    Object.entries(table).flatMap(([from, record]) => {
      const to = ids.get(from);
      return to === undefined ? [] : [[to, record]];
    }),
  );
}

/** The same part once more: its cuts, zones, patterns, channel and all settings; it comes right after the first. */
export const duplicatePart: Command<{ partId: string }> = (document, { partId }, env) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const newPartId = env.newId();
  const renamed = (ids: readonly string[]) => new Map(ids.map((id) => [id, env.newId()]));
  const cutIds = renamed(part.cutOrder);
  const zoneIds = renamed(part.zoneOrder);
  const patternIds = renamed(part.patternOrder);
  const channel = document.channels[part.channelId]!;
  const effectIds = renamed(channel.effectOrder);
  const channelId = env.newId();
  const sends = Object.values(document.sends).filter(({ fromChannelId }) => fromChannelId === channel.id);
  const sendIds = renamed(sends.map(({ id }) => id));
  const doubleIds = renamed((part.doubles ?? []).map(({ id }) => id));
  const helperIds = renamed(part.helperOrder);
  const others = new Map([[channel.id, channelId], ...effectIds, ...sendIds, ...zoneIds, ...doubleIds, ...helperIds]);
  const homes = [...cutIds].map(([from, to]) => [homeId(from), homeId(to)] as const);
  const movers = [[partId, newPartId] as const, ...zoneIds, ...patternIds, ...homes];
  const copied = new Map(movers.map(([from, to]) => [from, [to]]));
  const movementIds = new Map<string, string>();
  const movement = withModulatorsCopied(document, copied, env, others, movementIds);
  const copies = <T extends { id: string }>(
    ids: ReadonlyMap<string, string>,
    table: Record<string, T>,
    change: (record: T) => T,
  ) => Object.fromEntries([...ids].map(([from, to]) => [to, { ...change(table[from]!), id: to }]));
  const patternOf = <Id extends string | null>(id: Id) => {
    const homeOf = id === null ? null : cutIdOfHome(id);
    return (homeOf === null ? (patternIds.get(id ?? '') ?? null) : homeId(cutIds.get(homeOf)!)) as Id;
  };
  const copy: Part = {
    ...part,
    id: newPartId,
    name: `${part.name} (copy)`.slice(0, 200),
    cutOrder: [...cutIds.values()],
    zoneOrder: [...zoneIds.values()],
    patternOrder: [...patternIds.values()],
    helperOrder: [...helperIds.values()],
    activePatternId: patternOf(part.activePatternId),
    channelId,
    ...(part.switches
      ? {
          switches: part.switches.map((one) => ({
            ...one,
            patternId: patternOf(one.patternId),
            ...(one.zoneId === undefined ? {} : { zoneId: zoneIds.get(one.zoneId) ?? one.zoneId }),
          })),
        }
      : {}),
    ...(part.doubles
      ? {
          doubles: part.doubles.map((one) => ({
            ...one,
            id: doubleIds.get(one.id)!,
            zoneIds: one.zoneIds.map((id) => zoneIds.get(id)!),
            soundId: zoneIds.get(one.soundId)!,
          })),
        }
      : {}),
    ...(part.treatmentChanges
      ? { treatmentChanges: withKeysRenamed(part.treatmentChanges, new Map([...patternIds, ...homes])) }
      : {}),
    ...(part.treatments
      ? {
          treatments: part.treatments.map((one) => ({
            ...one,
            zones: withKeysRenamed(one.zones, zoneIds),
            effects: withKeysRenamed(one.effects, effectIds),
            ...(one.doubles ? { doubles: withKeysRenamed(one.doubles, doubleIds) } : {}),
            ...(one.modulators ? { modulators: withKeysRenamed(one.modulators, movementIds) } : {}),
            ...(one.routes ? { routes: withKeysRenamed(one.routes, movementIds) } : {}),
          })),
        }
      : {}),
  };
  return done({
    ...document,
    parts: { ...document.parts, [newPartId]: copy },
    partOrder: document.partOrder.flatMap((other) => (other === partId ? [partId, newPartId] : [other])),
    cuts: { ...document.cuts, ...copies(cutIds, document.cuts, (cut) => ({ ...cut, partId: newPartId })) },
    zones: {
      ...document.zones,
      ...copies(zoneIds, document.zones, (zone) => ({
        ...zone,
        partId: newPartId,
        plays: { ...zone.plays, cutId: cutIds.get(zone.plays.cutId)! },
      })),
    },
    patterns: {
      ...document.patterns,
      ...copies(patternIds, document.patterns, (pattern: Pattern) => ({
        ...withEventsMoved(pattern, zoneIds),
        partId: newPartId,
      })),
    },
    channels: {
      ...document.channels,
      [channelId]: { ...channel, id: channelId, effectOrder: [...effectIds.values()] },
    },
    sends: {
      ...document.sends,
      ...copies(sendIds, document.sends, (send) => ({ ...send, fromChannelId: channelId })),
    },
    effects: { ...document.effects, ...copies(effectIds, document.effects, (effect) => effect) },
    helpers: {
      ...document.helpers,
      ...copies(helperIds, document.helpers, (helper) => ({ ...helper, partId: newPartId })),
    },
    ...movement,
  });
};
