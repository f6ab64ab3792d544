import { LEVEL_SMOOTHING_MS, semitones } from '../common-rows.ts';
import { toggle } from '../row.ts';
import { amount, decibels, hertz, milliseconds, noteValue, timeIn } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const ECHO_ROWS = {
  ...SLOT_ROWS,
  wet: { ...SLOT_ROWS.wet, default: 0.35 },
  timeIn: timeIn('time in'),
  timeNote: noteValue('time', { default: '1/8d' }),
  timeMs: milliseconds('ms', { min: 1, max: 4000, default: 300 }),
  feedback: amount('feedback', { default: 0.45 }),
  across: amount('across', { hint: 'From side to side', default: 0 }),
  lowCutHz: hertz('low cut', { max: 2000, default: 80, hint: 'In its loop: each echo has less' }),
  highCutHz: hertz('high cut', { min: 200, default: 6000, hint: 'In its loop: each echo has less' }),
  driveDb: decibels('drive', { min: 0, max: 24, default: 0, hint: 'In its loop' }),
  pitchCents: semitones('pitch', {
    hint: 'In its loop: each echo as much higher or lower',
    min: -1200,
    max: 1200,
    smoothingMs: LEVEL_SMOOTHING_MS,
    movedBy: 1200,
  }),
  duckDb: decibels('gives way by', {
    hint: 'The echo is so much softer while something comes in',
    min: 0,
    max: 36,
    default: 0,
  }),
  holds: toggle({ label: 'hold', hint: 'What is in the loop stays; nothing new comes in', default: false }),
};
