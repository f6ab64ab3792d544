import { choice, number } from '../row.ts';
import { amount, hertz, milliseconds } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

export const ROOM_ROWS = {
  ...SLOT_ROWS,
  wet: { ...SLOT_ROWS.wet, default: 0.22 },
  runs: choice({
    label: 'runs',
    choices: [
      { value: 'on', words: 'on' },
      { value: 'backwards', words: 'backwards' },
      { value: 'gated', words: 'cut off' },
    ],
    default: 'on',
  }),
  size: amount('size', { hint: 'From a cupboard to a hall', default: 0.5 }),
  decaySeconds: number({
    label: 'decay',
    hint: 'Until it is 60 dB softer',
    unit: 's',
    min: 0.1,
    max: 120,
    default: 2.2,
    digits: 2,
    step: 0.1,
    curve: 'logarithmic',
    movedBy: 4800,
    smoothingMs: 6,
  }),
  beforeMs: milliseconds('delay before', { min: 0.1, max: 500, default: 12 }),
  highCutHz: hertz('damping', { hint: 'Treble above it dies sooner', min: 500, default: 6000 }),
  lowCutHz: hertz('low cut', { max: 1000, default: 60 }),
  width: amount('width', { default: 1 }),
  early: amount('early', { hint: 'What the nearest walls send back', default: 0.5 }),
  late: amount('late', { default: 1 }),
  cutMs: milliseconds('cut off after', {
    hint: 'So long after the sound has stopped',
    min: 20,
    max: 2000,
    default: 200,
  }),
};
