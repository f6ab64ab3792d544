/** What single slices are: their sound, role, name, lock and ends. Each command sets all chosen slices in one step. */
import type { Role } from '../../analysis/roles.ts';
import { placeSlices } from '../cuts.ts';
import type { ProjectDocument, Slice, SliceSound } from '../schema.ts';
import { done, refused, withSlices, type Command, type CommandResult } from './command.ts';
import { MIN_SLICE_FRAMES, moveMarker, removeSlices } from './cut.ts';

export interface SliceSelection {
  partId: string;
  sliceIds: readonly string[];
}

/** Changes several slices of a part in one step. */
function changeSlices(
  document: ProjectDocument,
  partId: string,
  sliceIds: readonly string[],
  change: (slice: Slice) => Slice,
): CommandResult {
  const cut = document.cuts[partId];
  if (!cut) return refused('this part is gone');
  const slices = { ...cut.slices };
  for (const sliceId of sliceIds) {
    const slice = slices[sliceId];
    if (slice) slices[sliceId] = change(slice);
  }
  return done(withSlices(document, partId, slices));
}

/** Sets the same sound settings on all chosen slices. */
export const setSliceSound: Command<SliceSelection & { sound: Partial<SliceSound> }> = (document, args) =>
  changeSlices(document, args.partId, args.sliceIds, (slice) => ({
    ...slice,
    sound: { ...slice.sound, ...args.sound },
  }));

export const setSliceRole: Command<SliceSelection & { role: Role }> = (document, args) =>
  changeSlices(document, args.partId, args.sliceIds, (slice) => ({ ...slice, role: args.role, roleByHand: true }));

/** Names slices; several get the name with a number. An empty name goes back to the role. */
export const nameSlices: Command<SliceSelection & { name: string }> = (document, args) => {
  const name = args.name.trim().slice(0, 200);
  const many = args.sliceIds.length > 1 && name !== '';
  let number = 0;
  return changeSlices(document, args.partId, args.sliceIds, (slice) => {
    number++;
    return { ...slice, name: many ? `${name} ${number}` : name };
  });
};

export const lockSlices: Command<SliceSelection & { locked: boolean }> = (document, args) =>
  changeSlices(document, args.partId, args.sliceIds, (slice) => ({ ...slice, locked: args.locked }));

/**
 * Gives slices an end of their own in frames, or with null lets them end at the next marker again. An end may lie beyond
 * the next marker: slices overlap then, and the neighbour stays as it is.
 */
export const setSliceEnds: Command<{ partId: string; ends: Readonly<Record<string, number | null>> }> = (
  document,
  args,
) => {
  const part = document.parts[args.partId];
  if (!part) return refused('this part is gone');
  const { frames } = document.sources[part.sourceId]!;
  const cut = document.cuts[args.partId]!;
  for (const [sliceId, endFrame] of Object.entries(args.ends)) {
    const slice = cut.slices[sliceId];
    if (!slice) return refused('this slice is gone');
    if (slice.locked) return refused('the slice is locked: unlock it first');
    if (endFrame !== null && endFrame < slice.startFrame + MIN_SLICE_FRAMES)
      return refused('a slice ends after its start');
  }
  return changeSlices(document, args.partId, Object.keys(args.ends), (slice) => {
    const endFrame = args.ends[slice.id];
    return {
      ...slice,
      endFrame: endFrame === null || endFrame === undefined ? null : Math.min(frames, Math.round(endFrame)),
    };
  });
};

/** Trims slices to what sounds in them: starts move in, and each gets an end of its own. */
export const trimSlices: Command<{
  partId: string;
  ranges: Readonly<Record<string, { startFrame: number; endFrame: number }>>;
}> = (document, { partId, ranges }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  let current: ProjectDocument = document;
  for (const [sliceId, { startFrame, endFrame }] of Object.entries(ranges)) {
    const slice = current.cuts[partId]!.slices[sliceId];
    if (!slice || slice.locked || endFrame - startFrame < MIN_SLICE_FRAMES) continue;
    const ended = setSliceEnds(current, { partId, ends: { [sliceId]: endFrame } }, env);
    if (!ended.ok) return ended;
    const moved = moveMarker(ended.document, { partId, sliceId, startFrame }, env);
    if (!moved.ok) return moved;
    current = moved.document;
  }
  return current === document ? refused('only unlocked slices with silence around them can be trimmed') : done(current);
};

/** Joins each run of neighbouring chosen slices into its first one. */
export const mergeSlices: Command<SliceSelection> = (document, { partId, sliceIds }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  const placed = placeSlices(document.cuts[partId]!, document.sources[part.sourceId]!.frames);
  const chosen = new Set(sliceIds);
  const going = placed.filter(
    ({ slice }, index) => index > 0 && chosen.has(slice.id) && !slice.locked && chosen.has(placed[index - 1]!.slice.id),
  );
  if (going.length === 0) return refused('choose at least two neighbouring slices, unlocked, to join them');
  return removeSlices(document, { partId, sliceIds: going.map(({ slice }) => slice.id) }, env);
};
