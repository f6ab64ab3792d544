/**
 * Undo and redo. A step is the diff between two documents, so no command has to know its inverse. A drag or a knob turn
 * changes the document many times but is one step: it is recorded from the document before the first change.
 */
import { applyDiff, diff, invert, type Diff } from './diff.ts';
import type { ProjectDocument } from './schema.ts';

export interface HistoryStep {
  /** What was done, in words: "move slice 5". */
  label: string;
  changes: Diff;
}

export interface History {
  past: readonly HistoryStep[];
  future: readonly HistoryStep[];
}

export const EMPTY_HISTORY: History = { past: [], future: [] };

/** Steps kept; older ones are forgotten. */
export const MAX_STEPS = 500;

/** Adds the step from one document to another; unchanged documents add nothing. */
export function record(history: History, label: string, before: ProjectDocument, after: ProjectDocument): History {
  const changes = diff(before, after);
  if (changes.length === 0) return history;
  return { past: [...history.past, { label, changes }].slice(-MAX_STEPS), future: [] };
}

/** The document and history one step back; null when there is none. */
export function undo(
  history: History,
  document: ProjectDocument,
): { history: History; document: ProjectDocument } | null {
  const step = history.past.at(-1);
  if (!step) return null;
  return {
    history: { past: history.past.slice(0, -1), future: [step, ...history.future] },
    document: applyDiff(document, invert(step.changes)),
  };
}

/** The document and history one step forward again; null when there is none. */
export function redo(
  history: History,
  document: ProjectDocument,
): { history: History; document: ProjectDocument } | null {
  const [step, ...future] = history.future;
  if (!step) return null;
  return { history: { past: [...history.past, step], future }, document: applyDiff(document, step.changes) };
}
