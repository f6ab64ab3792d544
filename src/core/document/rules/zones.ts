/** What goes round inside a sound lies in it, and crosses over no longer than it is. */
import { ownRecord } from '../changed-keys.ts';
import type { ProjectDocument, Zone } from '../schema.ts';

export function brokenZoneRule({ cuts, sources }: ProjectDocument, { id, loop, plays }: Zone): string | null {
  if (!loop) return null;
  const source = ownRecord(sources, ownRecord(cuts, plays.cutId)?.sourceId ?? '');
  if (source && loop.endFrame > source.frames) return `the loop inside the sound of zone ${id} ends after its source`;
  if (loop.crossfadeFrames > loop.endFrame - loop.startFrame) {
    return `the loop inside the sound of zone ${id} crosses over longer than it is`;
  }
  return null;
}
