import { describe, expect, it } from 'vitest';
import { EFFECT_ROWS } from './effects.ts';
import { MODULATOR_ROWS } from './modulators.ts';
import { fitValue, formatValue, fullValues, packValues, slotsOf, valueProblem, withValues, type Row } from './row.ts';
import { valuesSchema } from './values-schema.ts';
import { CHANNEL_ROWS, CUT_ROWS, EVENT_ROWS, PART_ROWS, SONG_ROWS, ZONE_ROWS } from './tables.ts';

const tables = {
  song: SONG_ROWS,
  part: PART_ROWS,
  cut: CUT_ROWS,
  zone: ZONE_ROWS,
  channel: CHANNEL_ROWS,
  event: EVENT_ROWS,
  ...EFFECT_ROWS,
  ...MODULATOR_ROWS,
};

describe('a row of the table', () => {
  it('says in words what does not fit, and takes what does', () => {
    expect(valueProblem(SONG_ROWS.tempoBpm, 500)).toBe('tempo goes from 20.00 bpm to 400.00 bpm');
    expect(valueProblem(PART_ROWS.startKey, 60.5)).toBe('from key goes from 0 to 127 in whole numbers');
    expect(valueProblem(ZONE_ROWS.filter, 'steep')).toBe('filter is one of off, low pass, high pass, band pass, notch');
    expect(valueProblem(CHANNEL_ROWS.muted, 1)).toBe('mute is on or off');
    expect(valueProblem(ZONE_ROWS.tuneCents, NaN)).not.toBeNull();
    expect(valueProblem(ZONE_ROWS.tuneCents, -4800)).toBeNull();
  });

  it('shows its number with its unit, and moves numbers into its range', () => {
    expect(formatValue(ZONE_ROWS.tuneCents, -350)).toBe('-3.50 st');
    expect(formatValue(EVENT_ROWS.velocity, 64 / 127)).toBe('64');
    expect([fitValue(ZONE_ROWS.gainDb, 99), fitValue(ZONE_ROWS.gainDb, -99)]).toEqual([12, -60]);
    expect(fitValue(EVENT_ROWS.repeats, 2.6)).toBe(3);
  });
});

describe('values of an owner', () => {
  it('are kept only where they differ from the defaults', () => {
    const once = withValues(ZONE_ROWS, {}, { gainDb: -6, reverse: true });
    expect(once).toEqual({ gainDb: -6, reverse: true });
    expect(withValues(ZONE_ROWS, once, { gainDb: 0 })).toEqual({ reverse: true });
    expect(fullValues(ZONE_ROWS, once)).toMatchObject({ gainDb: -6, reverse: true, sustain: 1 });
    expect(fullValues(ZONE_ROWS, once)).toBe(fullValues(ZONE_ROWS, once));
  });

  it('travel as numbers in the order of the rows', () => {
    const packed = packValues(ZONE_ROWS, { filter: 'band', reverse: true, cutoffHz: 440 });
    const slot = slotsOf(ZONE_ROWS);
    expect([packed[slot.filter], packed[slot.reverse], packed[slot.cutoffHz], packed[slot.sustain]]).toEqual([
      3, 1, 440, 1,
    ]);
    expect(packed).toHaveLength(Object.keys(ZONE_ROWS).length);
  });

  it('of others than the rows are refused', () => {
    expect(valuesSchema(ZONE_ROWS).safeParse({ gainDb: -6, sparkle: 1 }).success).toBe(false);
    expect(valuesSchema(ZONE_ROWS).safeParse({ gainDb: -61 }).success).toBe(false);
  });
});

describe('the whole table', () => {
  it.each(Object.entries(tables))('%s: every default fits its own row, and every row has words', (_owner, rows) => {
    for (const [id, row] of Object.entries(rows) as [string, Row][]) {
      expect([id, valueProblem(row, row.default)]).toEqual([id, null]);
      expect(row.label.length).toBeGreaterThan(1);
      if (row.kind !== 'number') continue;
      expect([id, row.max > row.min, row.step > 0]).toEqual([id, true, true]);
      if (row.curve === 'logarithmic') expect(row.min).toBeGreaterThan(0);
    }
  });

  it('moves numbers alone, by no more than their own range', () => {
    for (const rows of Object.values(tables)) {
      for (const [id, row] of Object.entries(rows) as [string, Row][]) {
        if (row.kind !== 'number' || row.movedBy === 0) continue;
        const octaves = Math.log2(row.max / row.min);
        const most = row.curve === 'logarithmic' ? octaves * 1200 : row.max - row.min;
        expect([id, row.movedBy > 0 && row.movedBy <= most]).toEqual([id, true]);
      }
    }
  });
});
