/**
 * What is known of the roles: how loud a kick, a hat and so on is in each band and at each moment, on the average of many,
 * where nothing like it sounds alone.
 */
import { ROLES, type Role } from '../analysis/role-names.ts';
import { bytesOfBase64 } from '../units/base64.ts';
import { BANDS } from './bands.ts';
import { SHAPES_BASE64 } from './drum-shape-data.ts';

type UnshapedRole = 'bass' | 'note' | 'chord' | 'other';
export type ShapedRole = Exclude<Role, UnshapedRole>;

const UNSHAPED: readonly Role[] = ['bass', 'note', 'chord', 'other'] satisfies UnshapedRole[];

export function isShaped(role: Role): role is ShapedRole {
  return !UNSHAPED.includes(role);
}

/** Roles of which something is known, in the order in which it is kept. */
export const SHAPED_ROLES = ROLES.filter(isShaped);

/** Moments at which levels are known, in ms from the start of the hit; between them they go on a line in dB. */
export const SHAPE_MS = [0, 6, 12, 18, 26, 36, 50, 70, 100, 150, 220, 320, 500] as const;
/** The quietest that is told apart, in dB below the loudest. */
export const SHAPE_RANGE_DB = 100;

let levels: Uint8Array | null = null;

/** Level of a role in a band, in dB below its loudest. */
function levelDb(role: number, moment: number, band: number): number {
  levels ??= bytesOfBase64(SHAPES_BASE64);
  return (levels[(role * SHAPE_MS.length + moment) * BANDS + band]! / 255 - 1) * SHAPE_RANGE_DB;
}

/** Powers of a role by row and bin, 1 where it is loudest. @param rowSeconds time of each row from the hit's start */
export function shapePowers(
  role: ShapedRole,
  rowSeconds: readonly number[],
  bins: number,
  bandOfBin: Uint8Array,
): Float32Array {
  const place = SHAPED_ROLES.indexOf(role);
  const powers = new Float32Array(rowSeconds.length * bins);
  const last = SHAPE_MS.length - 1;
  for (const [row, seconds] of rowSeconds.entries()) {
    const ms = Math.max(0, 1000 * seconds);
    const next = SHAPE_MS.findIndex((moment) => moment > ms);
    // Behind the last moment it goes on falling as it did before it.
    const to = next < 0 ? last : Math.max(1, next);
    const share = (ms - SHAPE_MS[to - 1]!) / (SHAPE_MS[to]! - SHAPE_MS[to - 1]!);
    const byBand = Float64Array.from({ length: BANDS }, (_, band) => {
      const [from, until] = [levelDb(place, to - 1, band), levelDb(place, to, band)];
      const slope = share > 1 ? Math.min(0, until - from) : until - from;
      return 10 ** ((share > 1 ? until + (share - 1) * slope : from + share * slope) / 10);
    });
    for (let bin = 0; bin < bins; bin++) powers[row * bins + bin] = byBand[bandOfBin[bin]!]!;
  }
  return powers;
}
