/** Bringing sounds together: from one part onto the keys of another, or into a new one, with all their settings. */
import { padsOf, zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import { withModulatorsCopied } from '../modulator-copies.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { done, find, refused, type Command, type CommandEnv, type CommandResult } from './command.ts';
import { heardOf } from '../heard.ts';
import { placedZones } from './lay.ts';
import { pickRanges } from './pick.ts';

export interface BringArgs {
  /** Sounds of one part or of several; with one layer of a pad come all of them. */
  zoneIds: readonly string[];
  /** Null: into a new part of this name. */
  partId: string | null;
  partName: string;
  /** The first one's key, the others on the next free ones; null: from the first free key on. */
  key: number | null;
}

/** The same stretches of the same sources on free keys of another part: what they were stays where it was. */
export const bringSounds: Command<BringArgs> = (document, { zoneIds, partId, partName, key }, env) => {
  const placed = placedZones(document, zoneIds)?.filter(({ zone }) => zone.plays.kind === 'slice');
  if (!placed) return refused('one of these sounds is gone');
  if (placed.length === 0) return refused('choose the sounds that are to be brought there');
  if (partId !== null && placed.some(({ zone }) => zone.partId === partId))
    return refused('they are of this part already');
  let current: CommandResult = done(document);
  let into = partId;
  let at = key;
  for (const pad of padsIn(placed, (one) => zonesOfPart(document, document.parts[one.zone.partId]!))) {
    let keys = null;
    for (const one of pad) {
      if (!current.ok) return current;
      const next: CommandResult = withSound(current.document, one, { partId: into, partName, key: at }, env);
      if (!next.ok) return next;
      into ??= next.document.partOrder.at(-1)!;
      const id = next.document.parts[into]!.zoneOrder.at(-1)!;
      const zone = next.document.zones[id]!;
      // Layers lie on one key, where the first of them has found room.
      keys ??= zone.keys;
      current = done({ ...next.document, zones: { ...next.document.zones, [id]: { ...zone, keys } } });
    }
    at = null;
  }
  return current;
};

/** Sounds by their pads, each once. */
function padsIn(
  placed: readonly PlacedZone[],
  allOf: (one: PlacedZone) => readonly PlacedZone[],
): (readonly PlacedZone[])[] {
  const pads = placed.map((one) => padsOf(allOf(one)).get(one.zone.id)!);
  return [...new Set(pads)].map((pad) => pad.filter(({ zone }) => zone.plays.kind === 'slice'));
}

/** One sound more for a part, its last one then. */
export function withSound(
  document: ProjectDocument,
  { at, cut, zone }: PlacedZone,
  to: Pick<BringArgs, 'partId' | 'partName' | 'key'>,
  env: CommandEnv,
): CommandResult {
  const { strength, brightnessHz, midi, cents } = at.slice;
  const facts = { ...heardOf(at.slice), strength, brightnessHz, midi, cents };
  const range = { ...facts, startFrame: at.startFrame, endFrame: at.endFrame, name: at.slice.name };
  const source = find(document.sources, cut.sourceId)!;
  const picked = pickRanges(document, { ...to, source, ranges: [range] }, env);
  if (!picked.ok) return picked;
  const partId = to.partId ?? picked.document.partOrder.at(-1)!;
  const id = picked.document.parts[partId]!.zoneOrder.at(-1)!;
  const { values, velocities, loop } = zone;
  const brought = { ...picked.document.zones[id]!, values, velocities, loop };
  const moved = withModulatorsCopied(picked.document, new Map([[zone.id, [id]]]), env);
  return done({ ...picked.document, ...moved, zones: { ...picked.document.zones, [id]: brought } });
}
