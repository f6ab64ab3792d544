/** Settings of the effects, by kind. A new effect adds its rows here and its sound in engine/mix/effects. */
import { choice, number, type Rows } from './row.ts';
import { ZONE_ROWS } from './tables.ts';

export const FILTER_ROWS = {
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
  wet: number({
    label: 'wet',
    unit: '%',
    scale: 100,
    min: 0,
    max: 1,
    default: 1,
    step: 5,
    smoothingMs: ZONE_ROWS.cutoffHz.smoothingMs,
    isModulatable: true,
  }),
};

export const EFFECT_ROWS = { filter: FILTER_ROWS } as const satisfies Record<string, Rows>;
export type EffectKind = keyof typeof EFFECT_ROWS;
export const EFFECT_KINDS = Object.keys(EFFECT_ROWS) as EffectKind[];
