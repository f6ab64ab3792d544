/** Settings of the effects, by kind. A new effect adds its rows here and its sound in engine/mix/effects. */
import { LEVEL_SMOOTHING_MS } from './common-rows.ts';
import { choice, number, slotsOf, type Rows } from './row.ts';
import { ZONE_ROWS } from './tables.ts';

/** What the place of every effect has, before the effect's own. */
const SLOT_ROWS = {
  wet: number({
    label: 'wet',
    hint: 'How much of the sound goes through it; the rest passes by',
    unit: '%',
    scale: 100,
    min: 0,
    max: 1,
    default: 1,
    step: 5,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 1,
  }),
};
export const SLOT = slotsOf(SLOT_ROWS);

export const FILTER_ROWS = {
  ...SLOT_ROWS,
  shape: choice({
    label: 'filter',
    choices: [
      { value: 'low', words: 'low pass' },
      { value: 'high', words: 'high pass', brings: { cutoffHz: 150 } },
      { value: 'band', words: 'band pass', brings: { cutoffHz: 1000 } },
      { value: 'notch', words: 'notch', brings: { cutoffHz: 1000 } },
    ],
    default: 'low',
  }),
  cutoffHz: ZONE_ROWS.cutoffHz,
  resonance: ZONE_ROWS.resonance,
};

export const EFFECT_ROWS = { filter: FILTER_ROWS } as const satisfies Record<string, Rows>;
export type EffectKind = keyof typeof EFFECT_ROWS;
/** What an effect is called. */
export const EFFECT_WORDS: Readonly<Record<EffectKind, string>> = { filter: 'filter' };
export const EFFECT_KINDS = Object.keys(EFFECT_ROWS) as EffectKind[];
