/** Whose a pattern is. */
import { ownRecord } from './changed-keys.ts';
import { cutIdOfHome } from './home-id.ts';
import type { ProjectDocument } from './schema.ts';

/** The part that a pattern is of, a home pattern, too; null when it is gone. */
export function partIdOfPattern({ cuts, patterns }: ProjectDocument, patternId: string): string | null {
  const homeOf = cutIdOfHome(patternId);
  return (homeOf === null ? ownRecord(patterns, patternId) : ownRecord(cuts, homeOf))?.partId ?? null;
}
