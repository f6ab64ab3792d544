/** Modulators belong to zones or parts that are there, and routes come from modulators that are. */
import { ownRecord } from '../changed-keys.ts';
import type { ProjectDocument } from '../schema.ts';

export function brokenModulationRule({ modulators, routes, zones, parts }: ProjectDocument): string | null {
  for (const { id, points } of Object.values(modulators)) {
    if (points?.some(({ at }, place) => at < (points[place - 1]?.at ?? 0))) {
      return `the points of curve ${id} are not in order`;
    }
  }
  for (const { id, ownerId } of Object.values(modulators)) {
    if (!ownRecord(zones, ownerId) && !ownRecord(parts, ownerId))
      return `modulator ${id} belongs to the unknown ${ownerId}`;
  }
  for (const { id, modulatorId } of Object.values(routes)) {
    if (!ownRecord(modulators, modulatorId)) return `route ${id} comes from the unknown modulator ${modulatorId}`;
  }
  return null;
}
