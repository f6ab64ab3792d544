/** What helpers do, drawn from their settings: the notes of a chord, the course of a runner, the hits of echoes. */
import { NOTE_RATES } from '#core/params/modulators.ts';
import { HELPER_ROWS } from '#core/params/helpers.ts';
import { RUN_ORDERS } from '#core/params/helper-rows/runner.ts';
import { fullValues } from '#core/params/row.ts';
import type { Helper } from '#core/document/schema.ts';
import { intervalsOf } from '#core/queries/helpers.ts';
import { newPlace, soundAt } from '#core/engine/helpers/orders.ts';
import { mix32 } from '#core/units/hash.ts';

export const WIDTH = 220;
export const HEIGHT = 64;

/** A hit: where, how long it lasts, how strong it is. */
export interface Dot {
  x: number;
  y: number;
  length: number;
  strength: number;
  isRest: boolean;
  isOctave: boolean;
}

const STEPS_SHOWN = 16;
const SOUNDS_SHOWN = 7;

/** The first steps of a runner over some sounds. */
export function runnerDots({ values, strengths }: Helper): Dot[] {
  const all = fullValues(HELPER_ROWS.runner, values);
  const place = newPlace();
  const sounds = SOUNDS_SHOWN * all.octaves;
  place.count = sounds;
  const order = RUN_ORDERS.findIndex((one) => one === all.order);
  const each = WIDTH / STEPS_SHOWN;
  const swing = (2 * all.swingPercent) / 100 - 1;
  const dots: Dot[] = [];
  for (let step = 0, hits = 0; step < STEPS_SHOWN; step++) {
    const seed = mix32(7, step);
    place.seed = seed;
    const at = hits > 0 ? place.last : soundAt(order, place);
    place.last = at;
    if (++hits >= all.hits) {
      hits = 0;
      place.turn++;
    }
    const strength =
      all.strength === 'fixed'
        ? all.fixedStrength
        : all.strength === 'drawn' && strengths
          ? strengths[step % strengths.length]!
          : 0.8;
    dots.push({
      x: (step + (step % 2 ? swing : 0)) * each + 6,
      y: HEIGHT - 7 - (at / Math.max(1, sounds - 1)) * (HEIGHT - 14),
      length: Math.max(3, (each * all.gatePercent) / 100 - 4),
      strength,
      isRest: ((seed >>> 8) % 1000) / 10 < all.restPercent || strength === 0,
      isOctave: at >= SOUNDS_SHOWN,
    });
  }
  return dots;
}

/** Lengths of note values in quarters. */
const QUARTERS = new Map(NOTE_RATES.map(({ value, quarters }) => [value, quarters]));
const MOST_DRAWN = 12;

/** A note and its echoes. */
export function echoDots({ values }: Helper): Dot[] {
  const all = fullValues(HELPER_ROWS.echoes, values);
  const count = all.endless ? MOST_DRAWN : Math.min(all.count, MOST_DRAWN);
  const each = Math.min(46, (WIDTH - 16) / (count + 1), 24 + 40 * (QUARTERS.get(all.rate as string) ?? 1));
  return Array.from({ length: count + 1 }, (_, place) => ({
    x: 6 + place * each,
    y: HEIGHT / 2 - (place * all.shiftCents) / 100,
    length: Math.max(3, (each * Math.min(100, all.gatePercent)) / 100 - 3),
    strength: (1 - all.fallPercent / 100) ** place,
    isRest: false,
    isOctave: false,
  }));
}

/** Two octaves of keys around the pressed one, with those that sound. */
export const KEYS_BELOW = 0;
export const KEYS_SHOWN = 25;
const BLACK = new Set([1, 3, 6, 8, 10]);
export const isBlack = (key: number) => BLACK.has(((key % 12) + 12) % 12);

export function chordKeys(helper: Helper): { semitones: number; isOn: boolean; isBlack: boolean }[] {
  const on = new Set(intervalsOf(helper));
  return Array.from({ length: KEYS_SHOWN }, (_, place) => {
    const semitones = place - KEYS_BELOW;
    return { semitones, isOn: on.has(semitones), isBlack: isBlack(semitones) };
  });
}
