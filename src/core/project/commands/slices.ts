/** What single slices are: role, name, lock and ends. Each command sets all chosen slices in one step. */
import type { Role } from '../../analysis/role-names.ts';
import { placeSlices } from '../../queries/slices.ts';
import type { ProjectDocument, Slice } from '../../document/schema.ts';
import { done, find, refused, withCut, type Command, type CommandResult } from './command.ts';
import { MIN_SLICE_FRAMES, moveMarker, removeSlices } from './cut.ts';

export interface SliceSelection {
  cutId: string;
  sliceIds: readonly string[];
}

/** Changes several slices of a cut in one step. */
function changeSlices(
  document: ProjectDocument,
  { cutId, sliceIds }: SliceSelection,
  change: (slice: Slice) => Slice,
): CommandResult {
  return withCut(document, cutId, (cut) => {
    const slices = { ...cut.slices };
    for (const sliceId of sliceIds) {
      const slice = find(slices, sliceId);
      if (slice) slices[sliceId] = change(slice);
    }
    return { ...cut, slices };
  });
}

export const setSliceRole: Command<SliceSelection & { role: Role }> = (document, args) =>
  changeSlices(document, args, (slice) => ({ ...slice, role: args.role, roleByHand: true }));

/** Names slices; several get the name with a number. An empty name goes back to the role. */
export const nameSlices: Command<SliceSelection & { name: string }> = (document, args) => {
  const name = args.name.trim().slice(0, 190);
  const many = args.sliceIds.length > 1 && name !== '';
  let number = 0;
  return changeSlices(document, args, (slice) => {
    number++;
    return { ...slice, name: many ? `${name} ${number}` : name };
  });
};

export const lockSlices: Command<SliceSelection & { locked: boolean }> = (document, args) =>
  changeSlices(document, args, (slice) => ({ ...slice, locked: args.locked }));

/**
 * Gives slices an end of their own in frames, or with null lets them end at the next marker again. An end may lie beyond
 * the next marker: slices overlap then, and the neighbour stays as it is.
 */
export const setSliceEnds: Command<{ cutId: string; ends: Readonly<Record<string, number | null>> }> = (
  document,
  { cutId, ends },
) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const { frames } = document.sources[cut.sourceId]!;
  for (const [sliceId, endFrame] of Object.entries(ends)) {
    const slice = find(cut.slices, sliceId);
    if (!slice) return refused('this slice is gone');
    if (slice.locked) return refused('the slice is locked: unlock it first');
    if (endFrame !== null && !(endFrame >= slice.startFrame + MIN_SLICE_FRAMES))
      return refused('a slice ends after its start');
  }
  return changeSlices(document, { cutId, sliceIds: Object.keys(ends) }, (slice) => {
    const endFrame = ends[slice.id];
    return {
      ...slice,
      endFrame: endFrame === null || endFrame === undefined ? null : Math.min(frames, Math.round(endFrame)),
    };
  });
};

/** Trims slices to what sounds in them: starts move in, and each gets an end of its own. */
export const trimSlices: Command<{
  cutId: string;
  ranges: Readonly<Record<string, { startFrame: number; endFrame: number }>>;
}> = (document, { cutId, ranges }, env) => {
  if (!find(document.cuts, cutId)) return refused('this cut is gone');
  let current: ProjectDocument = document;
  for (const [sliceId, { startFrame, endFrame }] of Object.entries(ranges)) {
    const slice = find(current.cuts[cutId]!.slices, sliceId);
    if (!slice || slice.locked || endFrame - startFrame < MIN_SLICE_FRAMES) continue;
    const ended = setSliceEnds(current, { cutId, ends: { [sliceId]: endFrame } }, env);
    if (!ended.ok) return ended;
    const moved = moveMarker(ended.document, { cutId, sliceId, startFrame }, env);
    if (!moved.ok) return moved;
    current = moved.document;
  }
  return current === document ? refused('only unlocked slices with silence around them can be trimmed') : done(current);
};

/** Joins each run of neighbouring chosen slices into its first one. */
export const mergeSlices: Command<SliceSelection> = (document, { cutId, sliceIds }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const placed = placeSlices(cut, document.sources[cut.sourceId]!.frames);
  const chosen = new Set(sliceIds);
  const going = placed.filter(
    ({ slice }, index) => index > 0 && chosen.has(slice.id) && !slice.locked && chosen.has(placed[index - 1]!.slice.id),
  );
  if (going.length === 0) return refused('choose at least two neighbouring slices, unlocked, to join them');
  return removeSlices(document, { cutId, sliceIds: going.map(({ slice }) => slice.id) }, env);
};
