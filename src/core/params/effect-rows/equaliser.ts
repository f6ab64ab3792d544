import { choice, number } from '../row.ts';
import { decibels, hertz } from './common.ts';
import { SLOT_ROWS } from './slot.ts';

const cut = (label: string) =>
  choice({
    label,
    choices: [
      { value: 'off', words: 'off' },
      { value: '12', words: '12 dB' },
      { value: '24', words: '24 dB' },
    ],
    default: 'off',
  });

const width = (label: string) =>
  number({
    label,
    hint: 'Centre over bandwidth: the more, the narrower',
    unit: '',
    min: 0.2,
    max: 20,
    default: 1,
    digits: 2,
    step: 0.1,
    curve: 'logarithmic',
    movedBy: 2400,
    smoothingMs: 6,
  });

const gain = (label: string) => decibels(label, { min: -24, max: 24, default: 0 });

export const EQUALISER_ROWS = {
  ...SLOT_ROWS,
  lowCut: cut('low cut'),
  lowCutHz: hertz('low cut at', { default: 40 }),
  lowShelfHz: hertz('low shelf at', { default: 120 }),
  lowShelfDb: gain('low shelf'),
  bell1Hz: hertz('bell 1 at', { default: 300 }),
  bell1Db: gain('bell 1'),
  bell1Q: width('bell 1 narrow'),
  bell2Hz: hertz('bell 2 at', { default: 800 }),
  bell2Db: gain('bell 2'),
  bell2Q: width('bell 2 narrow'),
  bell3Hz: hertz('bell 3 at', { default: 2000 }),
  bell3Db: gain('bell 3'),
  bell3Q: width('bell 3 narrow'),
  bell4Hz: hertz('bell 4 at', { default: 5000 }),
  bell4Db: gain('bell 4'),
  bell4Q: width('bell 4 narrow'),
  highShelfHz: hertz('high shelf at', { default: 8000 }),
  highShelfDb: gain('high shelf'),
  highCut: cut('high cut'),
  highCutHz: hertz('high cut at', { default: 16_000 }),
};
