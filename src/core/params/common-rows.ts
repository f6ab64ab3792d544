/** Kinds of rows that several tables have. */
import { number, type NumberRow } from './row.ts';

/** How long a level takes to a new value: as long as a block of the mix (256 frames at 44.1 kHz). */
export const LEVEL_SMOOTHING_MS = (256 / 44100) * 1000;

export const gainDb = (smoothingMs: number) =>
  number({
    label: 'level',
    unit: 'dB',
    min: -60,
    max: 12,
    default: 0,
    digits: 1,
    step: 0.5,
    smoothingMs,
    movedBy: 24,
  });

export const pan = (smoothingMs: number) =>
  number({
    label: 'pan',
    hint: 'Left to right',
    unit: '%',
    scale: 100,
    min: -1,
    max: 1,
    default: 0,
    step: 5,
    smoothingMs,
    movedBy: 1,
  });

export const percent = (label: string, settings: Partial<NumberRow> & { default: number }) =>
  number({ min: 0, max: 100, step: 5, ...settings, label, unit: '%' });

/** A share kept as 0..1. */
export const share = (label: string, settings: Partial<NumberRow> & { default: number }) =>
  percent(label, { max: 1, scale: 100, ...settings });

/** A time in milliseconds. */
export const timeMs = (label: string, settings: Partial<NumberRow> & { default: number; max: number }) =>
  number({ min: 0, step: 5, digits: 1, ...settings, label, unit: 'ms' });

/** An interval kept in cents and shown in semitones. */
export const semitones = (label: string, settings: Partial<NumberRow> & { min: number; max: number }) =>
  number({ default: 0, digits: 2, step: 1, ...settings, label, unit: 'st', scale: 0.01 });

/** How a stretch of an envelope is bent: straight at 0, quick at first above, slow at first below. */
export const bend = (label: string, hint: string) =>
  number({ label, hint, unit: '%', scale: 100, min: -1, max: 1, default: 0, step: 5 });
