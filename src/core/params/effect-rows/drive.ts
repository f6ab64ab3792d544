import { choice, toggle } from '../row.ts';
import { decibels, hertz } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const DRIVE_ROWS = {
  ...SLOT_ROWS,
  shape: choice({
    label: 'bends',
    choices: [
      { value: 'soft', words: 'softly' },
      { value: 'hard', words: 'hard' },
      { value: 'one-sided', words: 'one side' },
      { value: 'diode', words: 'like a diode' },
      { value: 'fold', words: 'folding' },
    ],
    default: 'soft',
  }),
  driveDb: decibels('drive', { min: 0, max: 36, default: 8 }),
  tiltDb: decibels('tone before', {
    hint: 'Above 0 the treble is driven harder than the bass, below 0 the bass',
    min: -12,
    max: 12,
    default: 0,
  }),
  toneHz: hertz('tone after', { hint: 'Takes treble from what the drive has made', min: 200, default: 20_000 }),
  isMadeUp: toggle({ label: 'level made up', hint: 'As loud as it went in, whatever the drive', default: true }),
  gainDb: decibels('level', { min: -24, max: 12, default: 0 }),
};
