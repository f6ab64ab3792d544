/** Taking slices of a loop apart with what the loop itself says: its lone hits are the guides. */
import type { Role } from '../analysis/role-names.ts';
import type { AudioData } from '../dsp/audio.ts';
import { BANDS, bandsOfBins } from './bands.ts';
import { NO_PULLS } from './border.ts';
import { sumOfPowers, type RingSources } from './ring.ts';
import { spectrographFor, takeApart, type Apart, type ApartWish, type Channels, type LayerWish } from './take-apart.ts';

export interface LoopSlice {
  startFrame: number;
  endFrame: number;
  role: Role;
  /** The role was put right by hand, or is heard with confidence. */
  isSure: boolean;
}

/** Where a layer is known from. */
export type Guide =
  | { kind: 'found' }
  | { kind: 'role' }
  /** Another slice of the loop, by its place. */
  | { kind: 'slice'; place: number }
  | { kind: 'sound'; channels: Channels };

export interface SliceWish extends Omit<ApartWish, 'layers' | 'ring'> {
  /** Which slice, by its place in the loop. */
  place: number;
  layers: readonly { role: Role; guide: Guide }[];
  /** Left out: the ring of the hit before stays. */
  ring: Omit<NonNullable<ApartWish['ring']>, keyof RingSources> | null;
}

export interface GuideRank {
  place: number;
  /** How much it sounds like the layer, 0..1. */
  likeness: number;
}

export interface SliceApart extends Apart {
  /** For each layer the loop's hits that could be its guide, the likest first. */
  guides: GuideRank[][];
  /** For each layer the slice that was its guide; null where none was. */
  used: (number | null)[];
  /** The slice that the ring was learned from; null where it was carried on from the hit before. */
  ringFrom: number | null;
}

/** A hit less like the layer than this is no guide. */
const LEAST_LIKENESS = 0.7;
/** The same drum, so that its ring is the other's ring. */
const SAME_DRUM = 0.85;
const SHORTEST_SECONDS = 0.03;
/** It has to ring on so much longer to say something about it. */
const RINGS_ON_SECONDS = 0.04;
const MOST_GUIDES = 8;

function cutOut({ channels }: AudioData, startFrame: number, endFrame: number): Channels {
  return channels.map((channel) => channel.subarray(startFrame, endFrame));
}

/** Levels by row and band: what is compared. */
function shapeOf(channels: Channels, sampleRate: number, frames: number): Float64Array {
  const spectrograph = spectrographFor(sampleRate);
  const { bins } = spectrograph;
  const bands = bandsOfBins(bins, sampleRate);
  const powers = sumOfPowers(channels, spectrograph, 0, frames);
  const shape = new Float64Array((powers.length / bins) * BANDS);
  for (let i = 0; i < powers.length; i++) {
    const at = Math.floor(i / bins) * BANDS + bands[i % bins]!;
    shape[at] = shape[at]! + powers[i]!;
  }
  return shape.map(Math.sqrt);
}

/** Cosine between two sounds' levels, over what both have. */
export function likenessOf(one: Channels, other: Channels, sampleRate: number): number {
  const frames = Math.min(one[0]?.length ?? 0, other[0]?.length ?? 0);
  if (frames === 0) return 0;
  const [a, b] = [shapeOf(one, sampleRate, frames), shapeOf(other, sampleRate, frames)];
  let [both, ofA, ofB] = [0, 1e-30, 1e-30];
  for (let i = 0; i < a.length; i++) {
    both += a[i]! * b[i]!;
    ofA += a[i]! ** 2;
    ofB += b[i]! ** 2;
  }
  const all = Math.sqrt(ofA * ofB);
  return all > 0 ? both / all : 0;
}

function ranked(
  audio: AudioData,
  slices: readonly LoopSlice[],
  place: number,
  role: Role,
  layer: Channels,
): GuideRank[] {
  return slices
    .flatMap((slice, at): GuideRank[] => {
      const isShort = slice.endFrame - slice.startFrame < SHORTEST_SECONDS * audio.sampleRate;
      if (at === place || isShort || slice.role !== role || !slice.isSure) return [];
      const likeness = likenessOf(layer, cutOut(audio, slice.startFrame, slice.endFrame), audio.sampleRate);
      return [{ place: at, likeness }];
    })
    .sort((a, b) => b.likeness - a.likeness || a.place - b.place)
    .slice(0, MOST_GUIDES);
}

/** What rings into a slice, and where the same hit rings on alone. */
function ringInto(audio: AudioData, slices: readonly LoopSlice[], place: number) {
  const previous = slices[place - 1];
  const slice = slices[place]!;
  if (!previous || previous.endFrame < slice.startFrame) return null;
  const before = cutOut(audio, previous.startFrame, slice.startFrame);
  const length = slice.startFrame - previous.startFrame;
  const longer = slices.flatMap((other, at): GuideRank[] => {
    const isLonger = other.endFrame - other.startFrame > length + RINGS_ON_SECONDS * audio.sampleRate;
    if (at === place - 1 || at === place || other.role !== previous.role || !isLonger) return [];
    const likeness = likenessOf(before, cutOut(audio, other.startFrame, other.endFrame), audio.sampleRate);
    return likeness < SAME_DRUM ? [] : [{ place: at, likeness }];
  });
  const best = longer.sort((a, b) => b.likeness - a.likeness)[0];
  const from = best ? slices[best.place]! : null;
  return { before, alone: from && cutOut(audio, from.startFrame, from.endFrame), from: best?.place ?? null };
}

/**
 * @param slices of the loop, in their order
 * @throws RangeError as {@link takeApart}, and for a place where there is no slice
 */
export function takeSliceApart(audio: AudioData, slices: readonly LoopSlice[], wish: SliceWish): SliceApart {
  const slice = slices[wish.place];
  if (!slice) throw new RangeError(`there is no slice ${wish.place} of ${slices.length}`);
  const sound = cutOut(audio, slice.startFrame, slice.endFrame);
  const around = wish.ring && ringInto(audio, slices, wish.place);
  const ring = wish.ring && around && { ...wish.ring, ...around };
  const byRole = ({ guide, role }: SliceWish['layers'][number]): LayerWish => ({
    role,
    guide: soundOf(audio, slices, guide),
  });
  const plain = { ...wish, ring, layers: wish.layers.map(byRole) };
  const [first, second] = wish.layers;
  // One layer needs no guide: it is what the ring is not.
  if (!first || !second) {
    const apart = takeApart(sound, audio.sampleRate, plain);
    return { ...apart, guides: [[]], used: [null], ringFrom: around?.from ?? null };
  }
  const rough = takeApart(sound, audio.sampleRate, { ...plain, pulls: NO_PULLS, attacks: 'shared' });
  const guides = wish.layers.map(({ role }, layer) => ranked(audio, slices, wish.place, role, rough.layers[layer]!));
  const used = wish.layers.map(({ guide }, layer): number | null => {
    if (guide.kind === 'slice') return guide.place;
    const best = guides[layer]![0];
    return guide.kind === 'found' && best && best.likeness >= LEAST_LIKENESS ? best.place : null;
  });
  const layers = plain.layers.map((layer, at): LayerWish => {
    const place = used[at];
    if (layer.guide || place === null || place === undefined) return layer;
    return { ...layer, guide: cutOut(audio, slices[place]!.startFrame, slices[place]!.endFrame) };
  });
  return { ...takeApart(sound, audio.sampleRate, { ...plain, layers }), guides, used, ringFrom: around?.from ?? null };
}

function soundOf(audio: AudioData, slices: readonly LoopSlice[], guide: Guide): Channels | null {
  if (guide.kind === 'sound') return guide.channels;
  const slice = guide.kind === 'slice' ? slices[guide.place] : undefined;
  return slice ? cutOut(audio, slice.startFrame, slice.endFrame) : null;
}
