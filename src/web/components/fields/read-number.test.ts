import { describe, expect, it } from 'vitest';
import { readNumber } from './read-number.ts';

const TEMPO = { label: 'tempo', min: 20, max: 400, unit: 'bpm' };

describe('a typed number', () => {
  it.each([
    ['96', 96],
    [' 93,5 ', 93.5],
    ['93.5bpm', 93.5],
    ['120 bpm', 120],
    ['2e2', 200],
  ])('“%s” is %f', (text, value) => {
    expect(readNumber(text, TEMPO)).toEqual({ value, problem: null });
  });

  it.each(['', '  ', 'bpm'])('of nothing (“%s”) changes nothing', (text) => {
    expect(readNumber(text, TEMPO)).toEqual({ value: null, problem: null });
  });

  it.each(['fast', '12a', '1/2', 'Infinity', 'NaN', '--3'])(
    '“%s” is named as no number, with what would be one',
    (text) => {
      expect(readNumber(text, TEMPO)).toEqual({
        value: null,
        problem: `“${text}” is no number, so nothing has changed: “tempo” goes from 20 to 400 bpm.`,
      });
    },
  );

  it.each([
    ['500', 400],
    ['-3', 20],
  ])('“%s” out of range becomes %i, and it says so', (text, value) => {
    const read = readNumber(text, TEMPO);
    expect(read.value).toBe(value);
    expect(read.problem).toBe(`“tempo” goes from 20 to 400 bpm: ${text} has become ${value}.`);
  });

  it('without a unit is read as well', () => {
    expect(readNumber('9', { label: 'bars', min: 1, max: 8, unit: '' })).toEqual({
      value: 8,
      problem: '“bars” goes from 1 to 8: 9 has become 8.',
    });
  });
});
