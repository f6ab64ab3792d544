/** What server and page say to each other about projects. */
import { z } from 'zod';
import type { Diff } from '../document/diff.ts';
import type { ProjectDocument } from '../document/schema.ts';

export const projectId = z.string().regex(/^[\w-]{1,64}$/);
export const nameBody = z.strictObject({ name: z.string().trim().min(1).max(200) });

/** Changes that one save may bring. */
const MAX_CHANGES = 100_000;
/** How deep a changed value may be nested; documents need half of it. */
const MAX_DEPTH = 16;

/** Walks without recursion, so that no depth can overflow the stack. */
function isShallow(value: unknown): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > MAX_DEPTH) return false;
    level = level.flatMap((one) => (typeof one === 'object' && one !== null ? Object.values(one) : []));
  }
  return true;
}

const changedValue = z.unknown().optional().refine(isShallow, `nested deeper than ${MAX_DEPTH}`);

export const saveBody = z.strictObject({
  /** Named by the page: the same save sent again counts once. */
  saveId: z.string().regex(/^[\w-]{8,64}$/),
  /** Version of the documents that the changes lie between; without it, the newest. */
  schemaVersion: z.number().int().min(1).optional(),
  baseRevision: z.number().int().min(1),
  label: z.string().max(200),
  changes: z
    .array(z.strictObject({ path: z.array(z.string().max(80)).max(12), before: changedValue, after: changedValue }))
    .max(MAX_CHANGES),
});
export interface SaveRequest {
  saveId: string;
  schemaVersion?: number;
  baseRevision: number;
  label: string;
  changes: Diff;
}

export interface ProjectSummary {
  id: string;
  name: string;
  revision: number;
  createdAt: number;
  updatedAt: number;
  tempoBpm: number;
  partCount: number;
}

export interface LoadedProject {
  document: ProjectDocument;
  revision: number;
}

/** An earlier state of a project: a save, or a version that was not taken in a conflict. */
export interface Version {
  /** Number of the save (`12`), or of the kept version (`kept-3`). */
  id: string;
  kind: 'save' | 'kept';
  revision: number;
  label: string;
  createdAt: number;
}
