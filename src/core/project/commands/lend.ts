/** Sounds of other parts in a part: each becomes a sound of its own there, once, with the settings that it has. */
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import type { Part, ProjectDocument } from '../schema.ts';
import { done, find, type CommandEnv, type CommandResult } from './command.ts';
import { pickRanges } from './pick.ts';

/** The sounds of all other parts, in the order of the parts. */
export function soundsOfOthers(document: ProjectDocument, partId: string): PlacedZone[] {
  return document.partOrder
    .filter((id) => id !== partId)
    .flatMap((id) => zonesOfPart(document, document.parts[id]!))
    .filter(({ zone }) => zone.plays.kind === 'slice');
}

/** The sound of a part that was lent from another, as it is there: the same stretch of the same source. */
export function lentSound(document: ProjectDocument, part: Part, wanted: PlacedZone): string | undefined {
  return zonesOfPart(document, part).find(
    ({ cut, at, zone }) =>
      zone.plays.kind === 'slice' &&
      cut.sourceId === wanted.cut.sourceId &&
      at.startFrame === wanted.at.startFrame &&
      at.endFrame === wanted.at.endFrame,
  )?.zone.id;
}

/** Lends sounds to a part, on its next free keys. @returns the refusal when its keys do not suffice */
export function lendSounds(
  document: ProjectDocument,
  partId: string,
  wanted: readonly PlacedZone[],
  env: CommandEnv,
): CommandResult {
  let current = document;
  for (const placed of wanted) {
    const part = find(current.parts, partId)!;
    if (lentSound(current, part, placed) !== undefined) continue;
    const { at, cut, zone } = placed;
    const { strength, role, roleConfidence, brightnessHz, midi, cents } = at.slice;
    const facts = { strength, role, roleConfidence, brightnessHz, midi, cents };
    const picked = pickRanges(
      current,
      {
        partId,
        partName: part.name,
        source: current.sources[cut.sourceId]!,
        ranges: [{ ...facts, startFrame: at.startFrame, endFrame: at.endFrame, name: at.label }],
        key: null,
      },
      env,
    );
    if (!picked.ok) return picked;
    const id = picked.document.parts[partId]!.zoneOrder.at(-1)!;
    const lent = { ...picked.document.zones[id]!, values: zone.values };
    current = { ...picked.document, zones: { ...picked.document.zones, [id]: lent } };
  }
  return done(current);
}
