/** Another loop in the place of a part's: settings, chain, treatments and patterns stay, by role or by order. */
import { withValues } from '../../params/row.ts';
import { CUT_ROWS } from '../../params/tables.ts';
import { likeliestMaterial, newZone } from '../../document/defaults.ts';
import { withoutDangling } from '../../document/references.ts';
import type { Cut, Slice, Zone } from '../../document/schema.ts';
import { matchSlices } from '../../queries/match-slices.ts';
import { freshSlices } from './cut.ts';
import { done, find, refused, type Command } from './command.ts';
import { withFeelStepOf, type NewCut } from './parts.ts';

const inOrder = (slices: Readonly<Record<string, Slice>>) =>
  Object.values(slices).sort((one, other) => one.startFrame - other.startFrame);

/**
 * Puts another source in the place of a cut's. Each of its sounds keeps its settings, its keys and its events, and plays
 * the slice of the new loop that takes the place of its own (see {@link matchSlices}). Where two play one slice, the
 * second has no key. Slices that nothing plays become new sounds.
 */
export const replaceLoop: Command<NewCut & { cutId: string }> = (document, { cutId, ...args }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const { source, loop, tempoReadings, slices: found } = args;
  if (found.length === 0) return refused('no hit was found in it: cut it by hand first');
  if (cut.loop !== null && loop === null)
    return refused('a single hit cannot take the place of a loop: lay it on a key');
  const slices = freshSlices(found, env);
  const before = inOrder(cut.slices);
  const after = inOrder(slices);
  const { places } = matchSlices(before, after);
  const takes = new Map(before.map(({ id }, place) => [id, after[places[place]!]!.id]));
  const part = document.parts[cut.partId]!;
  const zones = { ...document.zones };
  const played = new Set<string>();
  for (const zoneId of part.zoneOrder) {
    const zone = zones[zoneId]!;
    if (zone.plays.cutId !== cutId) continue;
    zones[zoneId] = playing(zone, takes, played);
  }
  const fresh = after
    .filter(({ id }) => !played.has(id))
    .map(({ id }) => newZone(env.newId(), part.id, cutId, id, document.song.zoneDefaults));
  for (const zone of fresh) zones[zone.id] = zone;
  const material = likeliestMaterial(found.map(({ role }) => role));
  const next: Cut = {
    ...cut,
    sourceId: source.id,
    loop,
    tempoReadings: [...tempoReadings],
    slices,
    values: withValues(CUT_ROWS, cut.values, { material }),
  };
  const zoneOrder = [...part.zoneOrder, ...fresh.map(({ id }) => id)];
  const replaced = withoutDangling({
    ...document,
    sources: { ...document.sources, [source.id]: source },
    cuts: { ...document.cuts, [cutId]: next },
    zones,
    parts: { ...document.parts, [part.id]: { ...part, zoneOrder } },
  });
  return done(withFeelStepOf(document, replaced, cutId));
};

/** A zone of the old loop with the slice of the new one. @param played slices that have a zone already: it is added */
function playing(zone: Zone, takes: ReadonlyMap<string, string>, played: Set<string>): Zone {
  const { plays } = zone;
  // Frames of another source: a loop inside it, and its own start and end, say nothing of this one.
  const bare = { ...zone, loop: null };
  if (plays.kind === 'loop') return bare;
  const sliceId = takes.get(plays.sliceId)!;
  const isSecond = played.has(sliceId);
  played.add(sliceId);
  const moved = { ...bare, plays: { ...plays, sliceId } };
  return isSecond && zone.laid === 'itself' ? { ...moved, laid: 'hand', keys: null } : moved;
}
