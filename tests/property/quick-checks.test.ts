/** The quick checks of values and events say what the schema says. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitsRow, type Row } from '#core/params/row.ts';
import { valueSchema } from '#core/params/values-schema.ts';
import { CHANNEL_ROWS, CUT_ROWS, EVENT_ROWS, PART_ROWS, SONG_ROWS, ZONE_ROWS } from '#core/params/tables.ts';
import { MAX_TICKS } from '#core/document/limits.ts';
import { isEvent, patternEvent } from '#core/document/schema.ts';

const ROWS: Row[] = [SONG_ROWS, PART_ROWS, CUT_ROWS, ZONE_ROWS, CHANNEL_ROWS, EVENT_ROWS].flatMap((rows) =>
  Object.values(rows as Record<string, Row>),
);
const anything = fc.oneof(fc.anything(), fc.double(), fc.integer(), fc.string(), fc.boolean());

/** Values at, in and beside a row's range, and some of no kind. */
function around(row: Row): fc.Arbitrary<unknown> {
  if (row.kind === 'toggle') return anything;
  if (row.kind === 'choice')
    return fc.oneof(fc.constantFrom<unknown>(...row.choices.map(({ value }) => value)), anything);
  const { min, max } = row;
  const edges = [min, max, min - 1, max + 1, min + 0.5, min - 1e-9, max + 1e-9, NaN, Infinity, -0];
  return fc.oneof(fc.constantFrom(...edges), fc.integer({ min: Math.ceil(min), max: Math.floor(max) }), anything);
}

describe('a quick check', () => {
  it('of a value is the answer of its schema', () => {
    const chosen = fc.constantFrom(...ROWS).chain((row) => fc.tuple(fc.constant(row), around(row)));
    fc.assert(
      fc.property(chosen, ([row, value]) => {
        expect(fitsRow(row, value)).toBe(valueSchema(row).safeParse(value).success);
      }),
      { numRuns: 3_000 },
    );
  });

  it('of an event never takes what the schema refuses, and takes all that is sound', () => {
    const names = Object.keys(EVENT_ROWS) as (keyof typeof EVENT_ROWS)[];
    const sound = fc.record({
      id: fc.stringMatching(/^[\w-]{1,80}$/).filter((id) => !(id in Object.prototype)),
      zoneId: fc.constantFrom('zone-1', 'a', '_'),
      positionTicks: fc.double({ min: 0, max: MAX_TICKS, noNaN: true }),
      lengthTicks: fc.double({ min: 1e-3, max: MAX_TICKS, noNaN: true }),
      values: fc.uniqueArray(fc.constantFrom(...names)).chain((chosen) =>
        fc.record(
          Object.fromEntries(
            chosen.map((name) => {
              const row = EVENT_ROWS[name];
              if (row.kind === 'toggle') return [name, fc.boolean()];
              const { min, max } = row;
              return [name, row.isWhole ? fc.integer({ min, max }) : fc.double({ min, max, noNaN: true })];
            }),
          ) as Record<string, fc.Arbitrary<unknown>>,
        ),
      ),
    });
    fc.assert(
      fc.property(sound, (event) => {
        expect(patternEvent.safeParse(event).success).toBe(true);
        expect(isEvent(event)).toBe(true);
      }),
      { numRuns: 500 },
    );
    const field = fc.constantFrom('id', 'zoneId', 'positionTicks', 'lengthTicks', 'values', 'more');
    const spoiled = fc.tuple(sound, field, anything, fc.constantFrom(...names, 'toString', 'none'), anything);
    fc.assert(
      fc.property(spoiled, ([event, name, value, inside, insideValue]) => {
        const others = [
          { ...event, [name]: value },
          { ...event, values: { ...event.values, [inside]: insideValue } },
        ];
        for (const one of others) {
          if (isEvent(one)) expect(patternEvent.safeParse(one).success).toBe(true);
        }
      }),
      { numRuns: 3_000 },
    );
  });
});
