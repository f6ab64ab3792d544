/** What the rows of several effects share. */
import { LEVEL_SMOOTHING_MS } from '../common-rows.ts';
import { choice, number, type NumberRow } from '../row.ts';
import { NOTE_RATES } from '../modulators.ts';

type Settings = Partial<NumberRow> & { default: number };

/** A share kept as 0..1, smoothed and movable. */
export const amount = (label: string, settings: Settings) =>
  number({
    label,
    unit: '%',
    scale: 100,
    min: 0,
    max: 1,
    step: 5,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: Math.min(1, (settings.max ?? 1) - (settings.min ?? 0)),
    ...settings,
  });

/** A level in decibels, smoothed and movable. */
export const decibels = (label: string, settings: Settings & { min: number; max: number }) =>
  number({
    label,
    unit: 'dB',
    digits: 1,
    step: 0.5,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: settings.max - settings.min,
    ...settings,
  });

/** A frequency, moved by octaves. */
export const hertz = (label: string, settings: Settings) =>
  number({
    label,
    unit: 'Hz',
    min: 20,
    max: 20_000,
    step: 10,
    curve: 'logarithmic',
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 4800,
    ...settings,
  });

/** A time that is felt by its factors: from parts of a millisecond to seconds. */
export const milliseconds = (label: string, settings: Settings & { min: number; max: number }) =>
  number({
    label,
    unit: 'ms',
    digits: 1,
    step: 1,
    curve: 'logarithmic',
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 4800,
    ...settings,
  });

/** Note values that an effect may go by, the longest a whole note. */
const NOTES = NOTE_RATES.filter(({ quarters }) => quarters <= 6);
/** Their lengths in quarters, in the order of the choices of {@link noteValue}. */
export const NOTE_QUARTERS: readonly number[] = NOTES.map(({ quarters }) => quarters);

export const noteValue = (label: string, settings: { default: string; hint?: string }) =>
  choice({ label, choices: NOTES.map(({ value, words }) => ({ value, words })), ...settings });

/** Whether a time is kept in notes, and so with the tempo, or as it is. */
export const timeIn = (label: string) =>
  choice({
    label,
    choices: [
      { value: 'notes', words: 'notes' },
      { value: 'ms', words: 'ms' },
    ],
    default: 'notes',
  });
