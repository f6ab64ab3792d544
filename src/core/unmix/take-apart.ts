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
import { ringPowers, sumOfPowers, type RingWish } from './ring.ts';
import { centroid, ringShares, shared, sharesOf, sharingPowers } from './shares.ts';
import { Spectrograph } from './spectra.ts';

/** Samples by channel. */
export type Channels = readonly Float32Array[];

export interface LayerWish {
  role: Role;
  /** The sound alone, from its start; null: what is known of its role. */
  guide: Channels | null;
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
  const { bins } = spectrograph;
  const powers = sumOfPowers(slice, spectrograph, 0, frames);
  const { fitted, ring } = powersIn(powers, slice.length, frames, spectrograph, wish);
  const rows = powers.length / bins;
  const ringShare = ring && wish.ring ? ringShares(ring, fitted, wish.ring, spectrograph) : null;
  const [first, second] = fitted;
  if (!second) {
    const parts = layersOf(slice, spectrograph, ringShare ? [ringShare] : []);
    // One sound alone is what is left when the ring is out of it.
    const nothing = slice.map((samples) => new Float32Array(samples.length));
    return {
      layers: [parts.left, ...parts.layers],
      left: nothing,
      picture: pictureOf(powers, null, null, null, spectrograph, rows),
    };
  }
  const upperPlace = centroid(first!, bins) > centroid(second, bins) ? 0 : 1;
  const [brighter, darker] = upperPlace === 0 ? [first!, second] : [second, first!];
  const found = sharesOf(brighter, darker, wish.softEdgePercent);
  const border = foundBorder(powers, found, rows, bins);
  const upper = pullBorder(found, border, wish.pulls, bins, (row) => Math.max(0, spectrograph.frameOf(row) / frames));
  const exponents = sharingPowers(wish.attacks, rows, spectrograph);
  const own = (isUpper: boolean) =>
    upper.map((share, i) => {
      const by = (isUpper ? share : 1 - share) ** exponents[Math.floor(i / bins)]!;
      return by * (1 - (ringShare?.[i] ?? 0));
    });
  const shares = [own(upperPlace === 0), own(upperPlace === 1), ...(ringShare ? [ringShare] : [])];
  return {
    ...layersOf(slice, spectrograph, shares),
    picture: pictureOf(powers, upper, border, upperPlace, spectrograph, rows),
  };
}

/** How loud each layer, and the ring, is at each moment in each band. */
function powersIn(
  powers: Float32Array,
  channels: number,
  frames: number,
  spectrograph: Spectrograph,
  wish: ApartWish,
): { fitted: Float32Array[]; ring: Float32Array | null } {
  const { bins } = spectrograph;
  const rows = powers.length / bins;
  const bandOfBin = bandsOfBins(bins, spectrograph.sampleRate);
  const ring = wish.ring && covered(ringPowers(wish.ring, spectrograph, rows, bandOfBin), spectrograph, frames);
  if (wish.layers.length === 1)
    return { fitted: [powers.map((power, i) => Math.max(power - (ring?.[i] ?? 0), 0))], ring };
  const known = wish.layers.map(({ role, guide }) => {
    const alone = guide
      ? sumOfPowers(guide.slice(0, channels), spectrograph, 0, frames)
      : roleIn(role, spectrograph, frames, bandOfBin);
    return smoothed(alone, rows, bins);
  });
  return { fitted: fitPowers(smoothed(powers, rows, bins), known, ring, { rows, bins }, bandOfBin), ring };
}

/** Sounds by their shares of the slice's spectra, and what is left. */
function layersOf(
  slice: Channels,
  spectrograph: Spectrograph,
  shares: readonly Float32Array[],
): Pick<Apart, 'layers' | 'left'> {
  const spectra = slice.map((channel) => spectrograph.analyse(channel));
  const layers = shares.map((share) =>
    spectra.map((whole, channel) => spectrograph.sound(shared(whole, share), slice[channel]!.length)),
  );
  const left = slice.map((samples, channel) =>
    samples.map((value, i) => layers.reduce((rest, layer) => rest - layer[channel]![i]!, value)),
  );
  return { layers, left };
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
