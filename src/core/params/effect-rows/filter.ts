import { choice, number } from '../row.ts';
import { ZONE_ROWS } from '../zone-rows.ts';
import { amount, decibels, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const FILTER_ROWS = {
  ...SLOT_ROWS,
  shape: choice({
    label: 'filter',
    choices: [
      { value: 'low', words: 'low pass' },
      { value: 'high', words: 'high pass', brings: { cutoffHz: 150 } },
      { value: 'band', words: 'band pass', brings: { cutoffHz: 1000 } },
      { value: 'notch', words: 'notch', brings: { cutoffHz: 1000 } },
      { value: 'peak', words: 'peak', brings: { cutoffHz: 1000 } },
    ],
    default: 'low',
  }),
  cutoffHz: ZONE_ROWS.cutoffHz,
  resonance: ZONE_ROWS.resonance,
  slope: choice({
    label: 'slope',
    hint: 'In dB an octave; of band, notch and peak how narrow they are',
    choices: [6, 12, 24, 36, 48].map((dB) => ({ value: dB, words: `${dB} dB` })),
    default: 12,
  }),
  circuit: choice({
    label: 'circuit',
    hint: 'A ladder of four poles thins the bass as it resonates, and is driven inside its loop',
    choices: [
      { value: 'clean', words: 'clean' },
      { value: 'ladder', words: 'ladder' },
    ],
    default: 'clean',
  }),
  driveDb: decibels('drive', { hint: 'In the loop of the ladder', min: 0, max: 24, default: 0 }),
  second: choice({
    label: 'second',
    hint: 'Another filter of the same shape, behind it or beside it',
    choices: [
      { value: 'none', words: 'none' },
      { value: 'behind', words: 'behind' },
      { value: 'beside', words: 'beside' },
    ],
    default: 'none',
  }),
  apartCents: number({
    label: 'apart',
    hint: 'How far the second lies above the first',
    unit: 'oct',
    scale: 1 / 1200,
    min: -4800,
    max: 4800,
    default: 1200,
    digits: 2,
    step: 0.25,
    movedBy: 4800,
    smoothingMs: 6,
  }),
  followOctaves: number({
    label: 'follows level',
    hint: 'How far the level of the sound, or of what it listens to, moves the cutoff',
    unit: 'oct',
    min: -6,
    max: 6,
    default: 0,
    digits: 2,
    step: 0.25,
    movedBy: 6,
    smoothingMs: 6,
  }),
  attackMs: milliseconds('attack', { min: 0.1, max: 500, default: 3 }),
  releaseMs: milliseconds('release', { min: 1, max: 3000, default: 120 }),
  sensitivity: amount('sensitivity', { default: 0.5, hint: 'How loud it has to be to move the cutoff all the way' }),
};
