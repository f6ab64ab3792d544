/** The cut: finding again, markers by hand, and what single slices are. */
import type { SliceFacts } from '../../analysis/analyse-source.ts';
import { placeSlices, sliceAtFrame } from '../cuts.ts';
import { DEFAULT_SLICE_SOUND } from '../defaults.ts';
import type { Cut, CutSettings, Pattern, ProjectDocument, Slice } from '../schema.ts';
import { done, refused, withSlices, type Command, type CommandEnv } from './command.ts';

/** A slice as the analysis gives it. */
export interface FoundSlice extends SliceFacts {
  startFrame: number;
  strength: number;
}

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
    role: found.role,
    roleConfidence: found.roleConfidence,
    roleByHand: false,
    strength: found.strength,
    origin,
    locked: false,
    brightnessHz: found.brightnessHz,
    midi: found.midi,
    cents: found.cents,
    sound: DEFAULT_SLICE_SOUND,
  };
}

/** New slices by new ids. */
export function freshSlices(found: readonly FoundSlice[], env: CommandEnv): Record<string, Slice> {
  const slices = found.map((one) => freshSlice(one, env.newId(), 'found'));
  return Object.fromEntries(slices.map((slice) => [slice.id, slice]));
}

export interface RecutArgs {
  partId: string;
  settings: Partial<CutSettings>;
  slices: readonly FoundSlice[];
}

/**
 * Takes a newly found cut. Locked and hand-made slices stay; a slice that is found where one was keeps its id, name,
 * role by hand and sound. Events of slices that went play the slice that now covers their place.
 */
export const recut: Command<RecutArgs> = (document, { partId, settings, slices: found }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  if (found.length === 0) return refused('no slices were found: raise the sensitivity');
  const cut = document.cuts[partId]!;
  const reach = SAME_SLICE_SECONDS * document.sources[part.sourceId]!.sampleRate;
  const kept = Object.values(cut.slices).filter((slice) => slice.locked || slice.origin === 'hand');
  const free = Object.values(cut.slices).filter((slice) => !kept.includes(slice));
  const next: Record<string, Slice> = Object.fromEntries(kept.map((slice) => [slice.id, slice]));
  for (const one of found) {
    if (kept.some((slice) => Math.abs(slice.startFrame - one.startFrame) < reach)) continue;
    const same = nearest(free, one.startFrame, reach);
    if (same) free.splice(free.indexOf(same), 1);
    const slice = same ? { ...same, ...refreshed(same, one) } : freshSlice(one, env.newId(), 'found');
    next[slice.id] = slice;
  }
  const changed = { ...document, cuts: { ...document.cuts, [partId]: { ...cut, ...settings, slices: next } } };
  return done(rehomeEvents(changed, partId, cut));
};

function refreshed(slice: Slice, found: FoundSlice): Partial<Slice> {
  const { role, roleConfidence, ...facts } = found;
  return slice.roleByHand ? facts : { ...facts, role, roleConfidence };
}

function nearest(slices: readonly Slice[], frame: number, reach: number): Slice | null {
  let best: Slice | null = null;
  for (const slice of slices) {
    const distance = Math.abs(slice.startFrame - frame);
    if (distance < reach && (!best || distance < Math.abs(best.startFrame - frame))) best = slice;
  }
  return best;
}

/** Lets events whose slice went play the slice that covers where theirs began. */
function rehomeEvents(document: ProjectDocument, partId: string, cutBefore: Cut): ProjectDocument {
  const part = document.parts[partId]!;
  const cut = document.cuts[partId]!;
  const placed = placeSlices(cut, document.sources[part.sourceId]!.frames);
  const rehome = <T extends Pick<Pattern, 'events'>>(owner: T): T => {
    let events = owner.events;
    for (const event of Object.values(owner.events)) {
      if (cut.slices[event.sliceId]) continue;
      const frame = cutBefore.slices[event.sliceId]?.startFrame ?? 0;
      const cover = sliceAtFrame(placed, frame);
      if (cover) events = { ...events, [event.id]: { ...event, sliceId: cover.slice.id } };
    }
    return events === owner.events ? owner : { ...owner, events };
  };
  const patterns = { ...document.patterns };
  for (const patternId of part.patternOrder) {
    const pattern = rehome(patterns[patternId]!);
    const hands = Object.fromEntries(Object.entries(pattern.hands).map(([id, hand]) => [id, rehome(hand)]));
    patterns[patternId] = { ...pattern, hands };
  }
  return { ...document, patterns };
}

/** Adds a marker by hand. */
export const addMarker: Command<{ partId: string; slice: FoundSlice }> = (document, { partId, slice }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  const { frames } = document.sources[part.sourceId]!;
  if (slice.startFrame < 0 || slice.startFrame >= frames) return refused('a marker lies inside its source');
  const slices = document.cuts[partId]!.slices;
  if (Object.values(slices).some((other) => Math.abs(other.startFrame - slice.startFrame) < MIN_SLICE_FRAMES)) {
    return refused('there is a marker already');
  }
  const added = freshSlice(slice, env.newId(), 'hand');
  return done(withSlices(document, partId, { ...slices, [added.id]: added }));
};

/**
 * Moves the marker at which a slice starts. It stops short of its neighbours, and it becomes a marker by hand, which
 * finding again keeps.
 */
export const moveMarker: Command<{ partId: string; sliceId: string; startFrame: number }> = (document, args) => {
  const { partId, sliceId } = args;
  const part = document.parts[partId];
  const slice = document.cuts[partId]?.slices[sliceId];
  if (!part || !slice) return refused('this slice is gone');
  if (slice.locked) return refused('the slice is locked: unlock it to move it');
  const placed = placeSlices(document.cuts[partId]!, document.sources[part.sourceId]!.frames);
  const index = placed.findIndex((candidate) => candidate.slice.id === sliceId);
  const lowest = index > 0 ? placed[index - 1]!.startFrame + MIN_SLICE_FRAMES : 0;
  const ends = [placed[index + 1]?.startFrame, slice.endFrame, document.sources[part.sourceId]!.frames];
  const highest = Math.min(...ends.filter((end) => end !== null && end !== undefined)) - MIN_SLICE_FRAMES;
  const startFrame = Math.round(Math.max(lowest, Math.min(highest, args.startFrame)));
  if (startFrame === slice.startFrame || highest < lowest) return done(document);
  const slices = { ...document.cuts[partId]!.slices, [sliceId]: { ...slice, startFrame, origin: 'hand' as const } };
  return done(withSlices(document, partId, slices));
};

/** Removes slices: each is joined to the one before it. The last slice stays. */
export const removeSlices: Command<{ partId: string; sliceIds: readonly string[] }> = (document, args) => {
  const cut = document.cuts[args.partId];
  if (!cut) return refused('this part is gone');
  const going = new Set(args.sliceIds.filter((sliceId) => cut.slices[sliceId] && !cut.slices[sliceId].locked));
  if (going.size === 0) return refused('only unlocked slices can be removed');
  if (going.size === Object.keys(cut.slices).length) return refused('at least one slice has to stay');
  const slices = Object.fromEntries(Object.entries(cut.slices).filter(([sliceId]) => !going.has(sliceId)));
  return done(rehomeEvents(withSlices(document, args.partId, slices), args.partId, cut));
};

/** Forgets all markers that are neither locked nor by hand, but for the first: the clean table for tapping along. */
export const clearMarkers: Command<{ partId: string }> = (document, { partId }) => {
  const part = document.parts[partId];
  const cut = document.cuts[partId];
  if (!part || !cut) return refused('this part is gone');
  const placed = placeSlices(cut, document.sources[part.sourceId]!.frames);
  const kept = placed.filter(({ slice }, index) => index === 0 || slice.locked || slice.origin === 'hand');
  const slices = Object.fromEntries(kept.map(({ slice }) => [slice.id, slice]));
  const changed = { ...document, cuts: { ...document.cuts, [partId]: { ...cut, method: 'taps' as const, slices } } };
  return done(rehomeEvents(changed, partId, cut));
};
