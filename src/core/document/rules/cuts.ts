/** A cut plays a source that is there, and its loop and slices lie in it. */
import { ownRecord } from '../changed-keys.ts';
import type { Cut, ProjectDocument } from '../schema.ts';

export function brokenCutRule({ sources }: ProjectDocument, cut: Cut): string | null {
  const source = ownRecord(sources, cut.sourceId);
  if (!source) return `cut ${cut.id} plays the unknown source ${cut.sourceId}`;
  if (cut.loop && cut.loop.endFrame > source.frames) return `the loop of cut ${cut.id} ends after its source`;
  if (cut.tempoReadings.some(({ startFrame, endFrame }) => endFrame <= startFrame || endFrame > source.frames)) {
    return `a reading of the tempo of cut ${cut.id} lies beyond its source`;
  }
  if (Object.keys(cut.slices).length === 0) return `cut ${cut.id} has no slice`;
  for (const [key, slice] of Object.entries(cut.slices)) {
    if (slice.id !== key) return `slice ${key} of cut ${cut.id}: its id is ${slice.id}`;
    if (slice.startFrame >= source.frames) return `slice ${key} starts after its source`;
    if (slice.endFrame !== null && (slice.endFrame <= slice.startFrame || slice.endFrame > source.frames)) {
      return `slice ${key} ends before its start or after its source`;
    }
  }
  return null;
}
