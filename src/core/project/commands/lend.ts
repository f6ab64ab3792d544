/** Sounds of other parts in a part: each becomes a sound of its own there, once, with the settings that it has. */
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import type { Part, ProjectDocument } from '../../document/schema.ts';
import { done, find, type CommandEnv, type CommandResult } from './command.ts';
import { withSound } from './bring.ts';

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
    const lent = withSound(current, placed, { partId, partName: part.name, key: null }, env);
    if (!lent.ok) return lent;
    current = lent.document;
  }
  return done(current);
}
