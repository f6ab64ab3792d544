/** Reading a cut: order, ends and names of its slices. */
import type { Cut, ProjectDocument, Slice } from '../document/schema.ts';

/** A slice with what follows from its neighbours. */
export interface PlacedSlice {
  slice: Slice;
  /** Place in the order of starts, from 0. */
  index: number;
  startFrame: number;
  endFrame: number;
  /** Its name, or its role with a number: "kick 2". */
  label: string;
}

const placedBySlices = new WeakMap<Cut['slices'], { frames: number; placed: PlacedSlice[] }>();

/** Code units decide, not the language of the machine: the same order everywhere. */
export function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

/** The slices of a cut in order, each with its end: its own, the next slice's start, or the source's end. */
export function placeSlices(cut: Pick<Cut, 'slices'>, sourceFrames: number): readonly PlacedSlice[] {
  const known = placedBySlices.get(cut.slices);
  if (known?.frames === sourceFrames) return known.placed;
  const ordered = Object.values(cut.slices).sort((a, b) => a.startFrame - b.startFrame || compareText(a.id, b.id));
  const seen = new Map<string, number>();
  const placed = ordered.map((slice, index): PlacedSlice => {
    const number = (seen.get(slice.role) ?? 0) + 1;
    seen.set(slice.role, number);
    const label = slice.name || `${slice.role} ${number}`;
    return { slice, index, startFrame: slice.startFrame, endFrame: 0, label };
  });
  let nextStart = sourceFrames;
  for (let index = placed.length - 1; index >= 0; index--) {
    const at = placed[index]!;
    const after = placed[index + 1];
    if (after && after.startFrame > at.startFrame) nextStart = after.startFrame;
    at.endFrame = at.slice.endFrame ?? nextStart;
  }
  placedBySlices.set(cut.slices, { frames: sourceFrames, placed });
  return placed;
}

/** The placed slices of a cut; none for an id that names no cut. */
export function slicesOfCut(document: ProjectDocument, cutId: string): readonly PlacedSlice[] {
  const cut = document.cuts[cutId];
  return cut ? placeSlices(cut, document.sources[cut.sourceId]!.frames) : [];
}

/** The slice in which a frame lies: the last one that starts at or before it; the first one when none does. */
export function sliceAtFrame(placed: readonly PlacedSlice[], frame: number): PlacedSlice | null {
  let found = placed[0] ?? null;
  for (const candidate of placed) {
    if (candidate.startFrame > frame) break;
    found = candidate;
  }
  return found;
}
