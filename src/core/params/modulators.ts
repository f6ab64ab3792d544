/** Settings of the modulators, by kind, and what each setting that can be moved is moved by at full amount. */
import { choice, number, toggle, type Rows } from './row.ts';

export const LFO_ROWS = {
  wave: choice({
    label: 'wave',
    choices: [
      { value: 'sine', words: 'sine' },
      { value: 'triangle', words: 'triangle' },
      { value: 'saw', words: 'saw' },
      { value: 'square', words: 'square' },
    ],
    default: 'sine',
  }),
  rateHz: number({ label: 'rate', unit: 'Hz', min: 0.01, max: 50, default: 2, digits: 2, curve: 'logarithmic' }),
  phase: number({ label: 'phase', unit: '°', scale: 360, min: 0, max: 1, default: 0 }),
  restarts: toggle({ label: 'restarts', hint: 'With every hit; or runs freely with the song', default: true }),
};

export const ENVELOPE_ROWS = {
  delayMs: number({ label: 'delay', unit: 'ms', min: 0, max: 5000, default: 0 }),
  attackMs: number({ label: 'attack', unit: 'ms', min: 0, max: 5000, default: 0 }),
  decayMs: number({ label: 'decay', unit: 'ms', min: 0, max: 10000, default: 200 }),
  sustain: number({ label: 'sustain', unit: '%', scale: 100, min: 0, max: 1, default: 0 }),
};

export const MODULATOR_ROWS = { lfo: LFO_ROWS, envelope: ENVELOPE_ROWS } as const satisfies Record<string, Rows>;
export type ModulatorKind = keyof typeof MODULATOR_ROWS;

/** Settings of a zone that a modulator can move. An amount of 1 moves by the whole of what stands here. */
export const MODULATION_TARGETS = {
  /** In cents. */
  tuneCents: 1200,
  /** In dB. */
  gainDb: 24,
  /** From the middle to one side. */
  pan: 1,
  /** In cents: four octaves. */
  cutoffHz: 4800,
} as const;
export type ModulationTarget = keyof typeof MODULATION_TARGETS;
export const MODULATION_TARGET_IDS = Object.keys(MODULATION_TARGETS) as ModulationTarget[];
