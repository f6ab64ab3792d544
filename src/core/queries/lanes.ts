/** The lanes of patterns: which there are, how long they are, what they move. */
import type { Modulator, ProjectDocument, Route } from '../document/schema.ts';
import { patternLengthTicks } from './patterns.ts';

export type Lane = Modulator & { kind: 'lane'; points: NonNullable<Modulator['points']> };

/** In the order in which they were laid. */
export function lanesOver({ modulators }: Pick<ProjectDocument, 'modulators'>, patternId: string): Lane[] {
  return Object.values(modulators).filter((one): one is Lane => one.kind === 'lane' && one.ownerId === patternId);
}

/** How long a lane is: its own length, or its pattern's. */
export function laneLengthTicks(document: ProjectDocument, laneId: string): number {
  const lane = document.modulators[laneId];
  return lane ? (lane.lengthTicks ?? patternLengthTicks(document, lane.ownerId)) : 0;
}

/** What leads from a lane to its setting. */
export function settingOfLane(
  { routes }: Pick<ProjectDocument, 'routes'>,
  { id }: Pick<Lane, 'id'>,
): Route | undefined {
  return Object.values(routes).find(({ modulatorId }) => modulatorId === id);
}
