/** Kits of the shelf in a project: as a part of their own, or in the place of what a part has on its keys. */
import { homeId } from '../../document/home-id.ts';
import type { Part, ProjectDocument } from '../../document/schema.ts';
import { newChannel } from '../../document/defaults.ts';
import type { Kit } from '../kit-of.ts';
import { routesCopied } from '../modulator-copies.ts';
import { done, find, refused, type Command, type CommandEnv } from './command.ts';
import { removeCut } from './parts.ts';

/** A kit as a new part. */
export const addKit: Command<{ kit: Kit }> = (document, { kit }, env) => {
  if (kit.cuts.length === 0) return refused('this kit is empty');
  const partId = env.newId();
  const channel = newChannel(env.newId());
  const part: Part = {
    id: partId,
    name: kit.name,
    cutOrder: [],
    zoneOrder: [],
    patternOrder: [],
    helperOrder: [],
    activePatternId: '',
    channelId: channel.id,
    groove: null,
    values: kit.values,
  };
  const withPart = {
    ...document,
    parts: { ...document.parts, [partId]: part },
    partOrder: [...document.partOrder, partId],
    channels: { ...document.channels, [channel.id]: channel },
  };
  const filled = withKit(withPart, part, kit, env);
  const { cutOrder } = filled.parts[partId]!;
  const home = { ...filled.parts[partId]!, activePatternId: homeId(cutOrder[0]!) };
  return done({ ...filled, parts: { ...filled.parts, [partId]: home } });
};

/**
 * A kit in the place of what a part has: its sounds go with the patterns' events that played them, its channel and the
 * patterns themselves stay.
 */
export const replaceByKit: Command<{ partId: string; kit: Kit }> = (document, { partId, kit }, env) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  if (kit.cuts.length === 0) return refused('this kit is empty');
  let current = withKit(document, { ...part, values: kit.values }, kit, env);
  for (const cutId of part.cutOrder) {
    const result = removeCut(current, { cutId }, env);
    if (!result.ok) return result;
    current = result.document;
  }
  return done(current);
};

function withKit(document: ProjectDocument, part: Part, kit: Kit, env: CommandEnv): ProjectDocument {
  const renamed = (records: readonly { id: string }[]) => new Map(records.map(({ id }) => [id, env.newId()]));
  const cutIds = renamed(kit.cuts);
  const zoneIds = renamed(kit.zones);
  const modulatorIds = renamed(kit.modulators);
  const partId = part.id;
  const cuts = kit.cuts.map((cut) => ({ ...cut, id: cutIds.get(cut.id)!, partId }));
  const zones = kit.zones.map((zone) => ({
    ...zone,
    id: zoneIds.get(zone.id)!,
    partId,
    plays: { ...zone.plays, cutId: cutIds.get(zone.plays.cutId)! },
  }));
  const modulators = kit.modulators.map((modulator) => ({
    ...modulator,
    id: modulatorIds.get(modulator.id)!,
    // What moved all of the part it came from moves all of this one.
    ownerId: zoneIds.get(modulator.ownerId) ?? partId,
  }));
  const routes = routesCopied(kit.routes, modulatorIds, () => undefined, env);
  const byId = <T extends { id: string }>(records: readonly T[]) =>
    Object.fromEntries(records.map((one) => [one.id, one]));
  return {
    ...document,
    sources: { ...kit.sources, ...document.sources },
    cuts: { ...document.cuts, ...byId(cuts) },
    zones: { ...document.zones, ...byId(zones) },
    modulators: { ...document.modulators, ...byId(modulators) },
    routes: { ...document.routes, ...byId(routes) },
    parts: {
      ...document.parts,
      [partId]: {
        ...part,
        cutOrder: [...part.cutOrder, ...cuts.map(({ id }) => id)],
        zoneOrder: [...part.zoneOrder, ...zones.map(({ id }) => id)],
      },
    },
  };
}
