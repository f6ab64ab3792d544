/** Reading a cut: order, ends, names and keys of its slices. */
import type { Cut, Part, ProjectDocument, Slice } from './schema.ts';

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

const placedByCut = new WeakMap<Cut, { frames: number; placed: PlacedSlice[] }>();

/** The slices of a cut in order, each with its end: its own, the next slice's start, or the source's end. */
export function placeSlices(cut: Cut, sourceFrames: number): readonly PlacedSlice[] {
  const known = placedByCut.get(cut);
  if (known?.frames === sourceFrames) return known.placed;
  const ordered = Object.values(cut.slices).sort((a, b) => a.startFrame - b.startFrame || a.id.localeCompare(b.id));
  const seen = new Map<string, number>();
  const placed = ordered.map((slice, index) => {
    const number = (seen.get(slice.role) ?? 0) + 1;
    seen.set(slice.role, number);
    const next = ordered.slice(index + 1).find((other) => other.startFrame > slice.startFrame);
    return {
      slice,
      index,
      startFrame: slice.startFrame,
      endFrame: slice.endFrame ?? next?.startFrame ?? sourceFrames,
      label: slice.name || `${slice.role} ${number}`,
    };
  });
  placedByCut.set(cut, { frames: sourceFrames, placed });
  return placed;
}

/** The placed slices of a part. */
export function slicesOfPart(document: ProjectDocument, part: Part): readonly PlacedSlice[] {
  return placeSlices(document.cuts[part.id]!, document.sources[part.sourceId]!.frames);
}

/** The slice that a MIDI note plays, or null. */
export function sliceOnKey(placed: readonly PlacedSlice[], part: Part, note: number): PlacedSlice | null {
  return placed[note - part.startKey] ?? null;
}

/** The MIDI note that plays a slice, or null when it falls off the keyboard's end. */
export function keyOfSlice(part: Part, index: number): number | null {
  const note = part.startKey + index;
  return note <= 127 ? note : null;
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
