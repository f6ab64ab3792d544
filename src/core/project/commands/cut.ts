/** The cut: finding again, markers by hand. */
import type { SliceFacts } from '../../analysis/analyse-source.ts';
import { withValues, type SparseValues } from '../../params/row.ts';
import { CUT_ROWS } from '../../params/tables.ts';
import { placeSlices } from '../../queries/slices.ts';
import type { Slice } from '../../document/schema.ts';
import { heardOf } from '../heard.ts';
import { withSlices } from '../slice-zones.ts';
import { done, find, refused, type Command, type CommandEnv } from './command.ts';

/** A slice as the analysis gives it. */
export interface FoundSlice extends SliceFacts {
  startFrame: number;
  strength: number;
}

/** Settings of a cut that were used to find it. */
export type CutSettings = SparseValues<typeof CUT_ROWS>;

/** Slices that start within this of each other, in seconds, are the same slice before and after finding again. */
const SAME_SLICE_SECONDS = 0.01;
/** A marker of one's own closer than this to another, in frames, replaces nothing: it is refused. */
export const MIN_SLICE_FRAMES = 16;

function freshSlice(found: FoundSlice, id: string, origin: Slice['origin']): Slice {
  return {
    id,
    startFrame: found.startFrame,
    endFrame: null,
    name: '',
    ...heardOf(found),
    roleByHand: false,
    strength: found.strength,
    origin,
    locked: false,
    brightnessHz: found.brightnessHz,
    midi: found.midi,
    cents: found.cents,
  };
}

/** New slices by new ids. */
export function freshSlices(found: readonly FoundSlice[], env: CommandEnv): Record<string, Slice> {
  const slices = found.map((one) => freshSlice(one, env.newId(), 'found'));
  return Object.fromEntries(slices.map((slice) => [slice.id, slice]));
}

export interface RecutArgs {
  cutId: string;
  settings: CutSettings;
  slices: readonly FoundSlice[];
}

/**
 * Takes a newly found cut. Locked and hand-made slices stay; a slice that is found where one was keeps its id, name,
 * role by hand and zones. Events of slices that went play the slice that now covers their place.
 */
export const recut: Command<RecutArgs> = (document, { cutId, settings, slices: found }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  if (found.length === 0) return refused('no slices were found: raise the sensitivity');
  const reach = SAME_SLICE_SECONDS * document.sources[cut.sourceId]!.sampleRate;
  const all = Object.values(cut.slices);
  const kept = all.filter((slice) => slice.locked || slice.origin === 'hand');
  const free = new Nearest(all.filter((slice) => !slice.locked && slice.origin !== 'hand'));
  const fixed = new Nearest(kept);
  const next: Record<string, Slice> = Object.fromEntries(kept.map((slice) => [slice.id, slice]));
  for (const one of found) {
    if (fixed.within(one.startFrame, reach)) continue;
    const same = free.take(one.startFrame, reach);
    const slice = same ? { ...same, ...refreshed(same, one) } : freshSlice(one, env.newId(), 'found');
    next[slice.id] = slice;
  }
  const changed = withSlices(document, cutId, next, env.newId);
  const values = withValues(CUT_ROWS, cut.values, settings);
  return done({ ...changed, cuts: { ...changed.cuts, [cutId]: { ...changed.cuts[cutId]!, values } } });
};

function refreshed(slice: Slice, found: FoundSlice): Partial<Slice> {
  const { role, roleConfidence, secondRole, earsVersion, ...facts } = found;
  // What somebody has put right stays right.
  return slice.roleByHand ? facts : { ...facts, ...heardOf({ role, roleConfidence, secondRole, earsVersion }) };
}

/** Slices by place, to find the nearest without asking each. */
class Nearest {
  private readonly ordered: Slice[];
  private readonly taken = new Set<string>();

  constructor(slices: readonly Slice[]) {
    this.ordered = [...slices].sort((a, b) => a.startFrame - b.startFrame);
  }

  /** The nearest slice within reach that was not taken; null when there is none. */
  within(frame: number, reach: number): Slice | null {
    let low = 0;
    let high = this.ordered.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.ordered[middle]!.startFrame <= frame - reach) low = middle + 1;
      else high = middle;
    }
    let best: Slice | null = null;
    for (let at = low; at < this.ordered.length && this.ordered[at]!.startFrame < frame + reach; at++) {
      const slice = this.ordered[at]!;
      if (this.taken.has(slice.id)) continue;
      if (!best || Math.abs(slice.startFrame - frame) < Math.abs(best.startFrame - frame)) best = slice;
    }
    return best;
  }

  take(frame: number, reach: number): Slice | null {
    const found = this.within(frame, reach);
    if (found) this.taken.add(found.id);
    return found;
  }
}

/** Adds a marker by hand. */
export const addMarker: Command<{ cutId: string; slice: FoundSlice }> = (document, { cutId, slice }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const { frames } = document.sources[cut.sourceId]!;
  if (!(slice.startFrame >= 0 && slice.startFrame < frames)) return refused('a marker lies inside its source');
  const { slices } = cut;
  if (Object.values(slices).some((other) => Math.abs(other.startFrame - slice.startFrame) < MIN_SLICE_FRAMES)) {
    return refused('there is a marker already');
  }
  const added = freshSlice(slice, env.newId(), 'hand');
  return done(withSlices(document, cutId, { ...slices, [added.id]: added }, env.newId));
};

/**
 * Moves the marker at which a slice starts. It stops short of its neighbours, and it becomes a marker by hand, which
 * finding again keeps.
 */
export const moveMarker: Command<{ cutId: string; sliceId: string; startFrame: number }> = (document, args, env) => {
  const { cutId, sliceId } = args;
  const cut = find(document.cuts, cutId);
  const slice = cut && find(cut.slices, sliceId);
  if (!cut || !slice) return refused('this slice is gone');
  if (slice.locked) return refused('the slice is locked: unlock it to move it');
  const { frames } = document.sources[cut.sourceId]!;
  const placed = placeSlices(cut, frames);
  const index = placed.findIndex((candidate) => candidate.slice.id === sliceId);
  const lowest = index > 0 ? placed[index - 1]!.startFrame + MIN_SLICE_FRAMES : 0;
  const ends = [placed[index + 1]?.startFrame, slice.endFrame, frames];
  const highest = Math.min(...ends.filter((end) => end !== null && end !== undefined)) - MIN_SLICE_FRAMES;
  const startFrame = Math.round(Math.max(lowest, Math.min(highest, args.startFrame)));
  if (startFrame === slice.startFrame || highest < lowest) return done(document);
  const slices = { ...cut.slices, [sliceId]: { ...slice, startFrame, origin: 'hand' as const } };
  return done(withSlices(document, cutId, slices, env.newId));
};

/** Removes slices: each is joined to the one before it. The last slice stays. */
export const removeSlices: Command<{ cutId: string; sliceIds: readonly string[] }> = (document, args, env) => {
  const cut = find(document.cuts, args.cutId);
  if (!cut) return refused('this cut is gone');
  const going = new Set(args.sliceIds.filter((sliceId) => find(cut.slices, sliceId)?.locked === false));
  if (going.size === 0) return refused('only unlocked slices can be removed');
  if (going.size === Object.keys(cut.slices).length) return refused('at least one slice has to stay');
  const slices = Object.fromEntries(Object.entries(cut.slices).filter(([sliceId]) => !going.has(sliceId)));
  return done(withSlices(document, args.cutId, slices, env.newId));
};

/** Forgets all markers that are neither locked nor by hand, but for the first: the clean table for tapping along. */
export const clearMarkers: Command<{ cutId: string }> = (document, { cutId }, env) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const placed = placeSlices(cut, document.sources[cut.sourceId]!.frames);
  const kept = placed.filter(({ slice }, index) => index === 0 || slice.locked || slice.origin === 'hand');
  const slices = Object.fromEntries(kept.map(({ slice }) => [slice.id, slice]));
  const changed = withSlices(document, cutId, slices, env.newId);
  const values = withValues(CUT_ROWS, cut.values, { method: 'taps' });
  return done({ ...changed, cuts: { ...changed.cuts, [cutId]: { ...changed.cuts[cutId]!, values } } });
};
