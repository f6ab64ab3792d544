/** The lanes of patterns and sections: which there are, how long they are, what they move. */
import type { Modulator, ProjectDocument, Route } from '../document/schema.ts';
import { orderLayout } from '../order/layout.ts';
import { patternLengthTicks } from './patterns.ts';

export type Lane = Modulator & { kind: 'lane'; points: NonNullable<Modulator['points']> };

/** In the order in which they were laid. @param overId a pattern, or a section */
export function lanesOver({ modulators }: Pick<ProjectDocument, 'modulators'>, overId: string): Lane[] {
  return Object.values(modulators).filter((one): one is Lane => one.kind === 'lane' && one.ownerId === overId);
}

/** How long a lane is: its own length, or its pattern's, or its section's with all repeats. */
export function laneLengthTicks(document: ProjectDocument, laneId: string): number {
  const lane = document.modulators[laneId];
  return lane ? (lane.lengthTicks ?? lengthUnderLane(document, lane.ownerId)) : 0;
}

/** Of a pattern, or of a section with all repeats. */
function lengthUnderLane(document: ProjectDocument, overId: string): number {
  const laid = Object.hasOwn(document.sections, overId)
    ? orderLayout(document).sections.find(({ section }) => section.id === overId)
    : undefined;
  return laid ? laid.roundTicks * laid.repeats : patternLengthTicks(document, overId);
}

/** What leads from a lane to its setting. */
export function settingOfLane(
  { routes }: Pick<ProjectDocument, 'routes'>,
  { id }: Pick<Lane, 'id'>,
): Route | undefined {
  return Object.values(routes).find(({ modulatorId }) => modulatorId === id);
}
