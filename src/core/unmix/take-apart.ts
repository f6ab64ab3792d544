/**
 * What is in a slice: two drums that were struck together, and what of the hit before still rings in it.
 *
 * Each is known from where it sounds alone: another hit of the loop, a sound of the shelf, or the average of its role. What
 * of the slice is which follows from how loud each is at each moment in each band (see fit.ts); the slice's spectra are
 * shared out by it (N. Wiener's filter, 1949; for sounds with known power: E. Vincent et al., IEEE Signal Processing
 * Magazine 31, 2014, eq. 11). Layers and what is left over are the slice together, exactly.
 */
import type { Role } from '../analysis/role-names.ts';
import { bandsOfBins } from './bands.ts';
import { foundBorder, pullBorder } from './border.ts';
import { isShaped, shapePowers, type ShapedRole } from './drum-shapes.ts';
import { fitPowers } from './fit.ts';
import { pictureOf, type ApartPicture } from './picture.ts';
import { ringPowers, sumOfPowers, type RingSources } from './ring.ts';
import { Spectrograph, type Spectra } from './spectra.ts';

/** Samples by channel. */
export type Channels = readonly Float32Array[];

export interface LayerWish {
  role: Role;
  /** The sound alone, from its start; null: what is known of its role. */
  guide: Channels | null;
}

export interface RingWish extends RingSources {
  /** How much of it is taken out, 0..100. */
  percent: number;
  /** From when on, and until when, in seconds from the slice's start. */
  fromSeconds: number;
  untilSeconds: number;
  /** What lies below {@link LOW_HZ} stays in. */
  leavesLow: boolean;
}

export interface ApartWish {
  /** One or two. */
  layers: readonly LayerWish[];
  /** Null: nothing rings in it. */
  ring: RingWish | null;
  /** 0: what belongs more to one layer is its alone; 30: shared as loud as each is; up to 100. */
  softEdgePercent: number;
  /**
   * `both`: at its attack each layer is as loud as it is, of what both have there; `shared`: what one has of it the other
   * has not.
   */
  attacks: 'both' | 'shared';
  /** How far the border between two layers is pulled at each of HANDLE_PLACES, in octaves. */
  pulls: readonly number[];
}

export interface Apart {
  /** As they were asked for, then the ring where there was one. */
  layers: Float32Array[][];
  /** What of the slice is in none of them. */
  left: Float32Array[];
  picture: ApartPicture;
}

/** Low notes that may be left in. */
export const LOW_HZ = 150;
/** The share that is by power. */
const BY_POWER_PERCENT = 30;
const HARDEST = 24;
/** A longer slice is no hit. */
export const LONGEST_SECONDS = 8;

const spectrographs = new Map<number, Spectrograph>();

export function spectrographFor(sampleRate: number): Spectrograph {
  let found = spectrographs.get(sampleRate);
  if (!found) spectrographs.set(sampleRate, (found = new Spectrograph(sampleRate)));
  return found;
}

/** The role that stands for what nothing is known of. */
export function shapeFor(role: Role): ShapedRole {
  return isShaped(role) ? role : role === 'bass' || role === 'other' ? 'kick' : 'percussion';
}

/**
 * Takes a slice apart. @param slice its samples, by channel
 * @throws RangeError for no layer, more than two, or a slice without samples or of more than {@link LONGEST_SECONDS}
 */
export function takeApart(slice: Channels, sampleRate: number, wish: ApartWish): Apart {
  const frames = slice[0]?.length ?? 0;
  if (frames === 0 || frames > LONGEST_SECONDS * sampleRate)
    throw new RangeError(`a slice that is taken apart lasts up to ${LONGEST_SECONDS} s, not ${frames / sampleRate}`);
  if (wish.layers.length < 1 || wish.layers.length > 2)
    throw new RangeError(`a slice is taken apart in one or two layers, not ${wish.layers.length}`);
  const spectrograph = spectrographFor(sampleRate);
  const spectra = slice.map((channel) => spectrograph.analyse(channel));
  const { rows, bins } = spectra[0]!;
  const bandOfBin = bandsOfBins(bins, sampleRate);
  const powers = sumOfPowers(slice, spectrograph, 0, frames);
  const ring = wish.ring && covered(ringPowers(wish.ring, spectrograph, rows, bandOfBin), spectrograph, frames);
  const known = wish.layers.map(({ role, guide }) =>
    smoothed(
      guide ? fitting(guide, slice.length, spectrograph, frames) : roleIn(role, spectrograph, frames, bandOfBin),
      rows,
      bins,
    ),
  );
  // One sound alone is what is left of the slice when the ring is out of it.
  const fitted =
    known.length === 1
      ? [powers.map((power, i) => Math.max(power - (ring?.[i] ?? 0), 0))]
      : fitPowers(smoothed(powers, rows, bins), known, ring, { rows, bins }, bandOfBin);
  const ringShare = ring && wish.ring ? ringShares(ring, fitted, wish.ring, spectrograph) : null;
  const placeOfRow = (row: number) => Math.max(0, spectrograph.frameOf(row) / frames);
  const [first, second] = fitted;
  const firstIsUpper = second !== undefined && centroid(first!, bins) > centroid(second, bins);
  const upper = second
    ? sharesOf(firstIsUpper ? first! : second, firstIsUpper ? second : first!, wish.softEdgePercent)
    : null;
  const border = upper && foundBorder(powers, upper, rows, bins);
  const moved = upper && border && pullBorder(upper, border, wish.pulls, bins, placeOfRow);
  const ringing = slice.map((_, channel) =>
    ringShare
      ? spectrograph.sound(
          shared(spectra[channel]!, (i) => ringShare[i]!),
          frames,
        )
      : null,
  );
  const powerOf = Float32Array.from({ length: rows }, (_, row) => sharingPower(wish.attacks, row, spectrograph));
  const own = (of: (i: number) => number) =>
    slice.map((_, channel) =>
      spectrograph.sound(
        shared(spectra[channel]!, (i) => of(i) ** powerOf[Math.floor(i / bins)]! * (1 - (ringShare?.[i] ?? 0))),
        frames,
      ),
    );
  const layers = moved
    ? inOrder(
        own((i) => moved[i]!),
        own((i) => 1 - moved[i]!),
        firstIsUpper,
      )
    : [slice.map((samples, channel) => samples.map((value, i) => value - (ringing[channel]?.[i] ?? 0)))];
  if (ringShare) layers.push(ringing.map((samples) => samples!));
  const left = slice.map((samples, channel) =>
    samples.map((value, i) => layers.reduce((rest, layer) => rest - layer[channel]![i]!, value)),
  );
  const upperPlace = second ? (firstIsUpper ? 0 : 1) : null;
  return { layers, left, picture: pictureOf(powers, moved, border, upperPlace, spectrograph, rows) };
}

/** A guide has as many channels as the slice, and is heard no longer than it. */
function fitting(guide: Channels, channels: number, spectrograph: Spectrograph, frames: number): Float32Array {
  return sumOfPowers(guide.slice(0, Math.max(1, channels)), spectrograph, 0, frames);
}

function roleIn(role: Role, spectrograph: Spectrograph, frames: number, bandOfBin: Uint8Array): Float32Array {
  const rows = spectrograph.rowsOf(frames);
  const seconds = Array.from({ length: rows }, (_, row) => spectrograph.secondsOf(row));
  return covered(shapePowers(shapeFor(role), seconds, spectrograph.bins, bandOfBin), spectrograph, frames);
}

/** Powers of whole windows, as far as their windows lie in the slice. */
function covered(powers: Float32Array, spectrograph: Spectrograph, frames: number): Float32Array {
  const { bins } = spectrograph;
  const byRow = Float64Array.from({ length: powers.length / bins }, (_, row) => spectrograph.coverage(row, frames));
  return powers.map((power, i) => power * byRow[Math.floor(i / bins)]!);
}

/** The mean of nine neighbours: a single number of a noise says little of its power. */
function smoothed(powers: Float32Array, rows: number, bins: number): Float32Array {
  const across = new Float32Array(powers.length);
  for (let row = 0; row < rows; row++) {
    for (let bin = 0; bin < bins; bin++) {
      const i = row * bins + bin;
      const [left, right] = [bin > 0 ? powers[i - 1]! : powers[i]!, bin < bins - 1 ? powers[i + 1]! : powers[i]!];
      across[i] = (left + powers[i]! + right) / 3;
    }
  }
  return across.map((value, i) => (value + (across[i - bins] ?? value) + (across[i + bins] ?? value)) / 3);
}

function sharesOf(one: Float32Array, other: Float32Array, softEdgePercent: number): Float32Array {
  const exponent = Math.min(HARDEST, BY_POWER_PERCENT / Math.max(1, softEdgePercent));
  return one.map((power, i) => 1 / (1 + ((other[i]! + 1e-20) / (power + 1e-20)) ** exponent));
}

function ringShares(
  ring: Float32Array,
  fitted: readonly Float32Array[],
  { percent, fromSeconds, untilSeconds, leavesLow }: RingWish,
  spectrograph: Spectrograph,
): Float32Array {
  const { bins, size, sampleRate } = spectrograph;
  const lowest = leavesLow ? (LOW_HZ * size) / sampleRate : 0;
  return ring.map((power, i) => {
    const seconds = spectrograph.secondsOf(Math.floor(i / bins));
    if (i % bins < lowest || seconds < fromSeconds || seconds > untilSeconds) return 0;
    const own = fitted.reduce((sum, powers) => sum + powers[i]!, 0);
    return ((percent / 100) * power) / (power + own + 1e-20);
  });
}

/** An attack is as long as this, and what comes after it so much later, in seconds. */
const ATTACK_SECONDS = 0.012;
const AFTER_ATTACK_SECONDS = 0.024;

/**
 * Exponent of the shares of a row: a share by power leaves `share^2` of the power that both have, which is too little of
 * an attack; its root leaves as much as there was.
 */
function sharingPower(attacks: ApartWish['attacks'], row: number, spectrograph: Spectrograph): number {
  if (attacks === 'shared') return 1;
  const seconds = spectrograph.secondsOf(row);
  const after = (seconds - ATTACK_SECONDS) / (AFTER_ATTACK_SECONDS - ATTACK_SECONDS);
  return 0.5 + 0.5 * Math.max(0, Math.min(1, after));
}

function inOrder(upper: Float32Array[], lower: Float32Array[], firstIsUpper: boolean): Float32Array[][] {
  return firstIsUpper ? [upper, lower] : [lower, upper];
}

function shared({ rows, bins, re, im }: Spectra, share: (i: number) => number): Spectra {
  return { rows, bins, re: re.map((value, i) => value * share(i)), im: im.map((value, i) => value * share(i)) };
}

/** Where the power lies, as a bin. */
function centroid(powers: Float32Array, bins: number): number {
  let [weighed, all] = [0, 1e-30];
  for (let i = 0; i < powers.length; i++) {
    const amount = Math.sqrt(powers[i]!);
    weighed += amount * (i % bins);
    all += amount;
  }
  return weighed / all;
}
