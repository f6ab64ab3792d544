/** The keys that drums have by agreement: "General MIDI System Level 1", percussion key map (MIDI Association, 1991). */
import type { Role } from '../analysis/role-names.ts';

/** Keys of each role, the usual first; further sounds of a role take the next. */
const KEYS_BY_ROLE: Partial<Record<Role, readonly number[]>> = {
  // Bass drum 1 and acoustic bass drum.
  kick: [36, 35],
  // Acoustic and electric snare.
  snare: [38, 40],
  // Side stick.
  rim: [37],
  clap: [39],
  // Closed and pedal hi-hat.
  'closed hat': [42, 44],
  'open hat': [46],
  // Low, low-mid, hi-mid and high tom, high and low floor tom.
  tom: [45, 47, 48, 50, 43, 41],
  // Crash 1, ride 1, crash 2, splash, Chinese, ride bell, ride 2.
  cymbal: [49, 51, 57, 55, 52, 53, 59],
  // Tambourine, cowbell, vibraslap, bongos, congas, timbales, agogos, cabasa, maracas, claves, wood blocks, triangles.
  percussion: [54, 56, 58, 60, 61, 62, 63, 64, 65, 66, 67, 68, 69, 70, 75, 76, 77, 80, 81],
};
const LAST_KEY = 127;

/** What lies on a key by agreement: its role, and its place among the keys of that role; null where nothing does. */
export function percussionOfKey(key: number): { role: Role; place: number } | null {
  for (const [role, keys] of Object.entries(KEYS_BY_ROLE) as [Role, readonly number[]][]) {
    const place = keys.indexOf(key);
    if (place >= 0) return { role, place };
  }
  return null;
}

/** Roles that are several instruments: each of their sounds takes another key, as long as there are some. */
const MANY: ReadonlySet<Role> = new Set(['tom', 'cymbal', 'percussion']);

/**
 * The key of a sound for any drum machine: the usual one of its role, whichever of its kicks it is.
 * @param place which sound of its role it is
 * @returns null for what is no drum
 */
export function agreedKey(role: Role, place: number): number | null {
  const keys = KEYS_BY_ROLE[role];
  return keys ? keys[MANY.has(role) ? place % keys.length : 0]! : null;
}

/**
 * A key for each role in order: its own by agreement while there is one free, then the next free ones above all that.
 * @returns MIDI notes; null for those that no key is left for
 */
export function percussionKeys(roles: readonly Role[]): (number | null)[] {
  const taken = new Set<number>();
  const keys = roles.map((role) => {
    const key = KEYS_BY_ROLE[role]?.find((one) => !taken.has(one)) ?? null;
    if (key !== null) taken.add(key);
    return key;
  });
  let next = Math.max(KEYS_BY_ROLE.kick![0]!, ...taken) + 1;
  return keys.map((key) => key ?? (next <= LAST_KEY ? next++ : null));
}
