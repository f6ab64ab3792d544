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

/** How much the steps together may hold, in values: some tens of megabytes. The latest is kept, whatever it holds. */
export const MAX_HELD_VALUES = 400_000;

const weights = new WeakMap<Diff, number>();

/** Values that a diff keeps alive. */
function weightOf(changes: Diff): number {
  let weight = weights.get(changes);
  if (weight !== undefined) return weight;
  weight = 0;
  const open: unknown[] = changes.flatMap(({ before, after }) => [before, after]);
  while (open.length > 0) {
    const value = open.pop();
    weight++;
    if (typeof value === 'object' && value !== null) open.push(...Object.values(value));
  }
  weights.set(changes, weight);
  return weight;
}

/** The latest steps that there is room for. */
function latest(past: readonly HistoryStep[]): readonly HistoryStep[] {
  let held = 0;
  let from = past.length;
  while (from > 0 && past.length - from < MAX_STEPS) {
    held += weightOf(past[from - 1]!.changes);
    if (held > MAX_HELD_VALUES && from < past.length) break;
    from--;
  }
  return from === 0 ? past : past.slice(from);
}

/** Adds the step from one document to another; unchanged documents add nothing. */
export function record(history: History, label: string, before: ProjectDocument, after: ProjectDocument): History {
  const changes = diff(before, after);
  if (changes.length === 0) return history;
  return { past: latest([...history.past, { label, changes }]), future: [] };
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
