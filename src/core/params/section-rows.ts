/** Settings of a section of the running order. */
import { choice, number, type ValuesOf } from './row.ts';
import { SONG_ROWS } from './tables.ts';

export const MOST_REPEATS = 99;
export const LONGEST_SECTION_BARS = 512;

export const SECTION_ROWS = {
  lengthBars: number({
    label: 'length',
    unit: 'bars',
    min: 1,
    max: LONGEST_SECTION_BARS,
    default: 4,
    isWhole: true,
  }),
  repeats: number({
    label: 'played',
    hint: 'How often it is played before the next section comes',
    unit: 'times',
    min: 1,
    max: MOST_REPEATS,
    default: 1,
    isWhole: true,
  }),
  tempoFrom: choice({
    label: 'tempo',
    hint: 'That of the song, or one of its own, which holds in this section alone',
    choices: [
      { value: 'song', words: 'the song’s' },
      { value: 'own', words: 'its own' },
    ],
    default: 'song',
  }),
  tempoBpm: { ...SONG_ROWS.tempoBpm, label: 'own tempo' },
  arriveBars: number({
    label: 'arrives in',
    hint: 'Over so many bars from its beginning the tempo goes evenly from that before to its own; 0: at once',
    unit: 'bars',
    min: 0,
    max: LONGEST_SECTION_BARS,
    default: 0,
    isWhole: true,
  }),
  metreFrom: choice({
    label: 'metre',
    choices: [
      { value: 'song', words: 'the song’s' },
      { value: 'own', words: 'its own' },
    ],
    default: 'song',
  }),
  beatsPerBar: { ...SONG_ROWS.beatsPerBar, label: 'own metre' },
};
export type SectionValues = ValuesOf<typeof SECTION_ROWS>;
