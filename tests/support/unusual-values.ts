import { fitValue, packValue, type Row, type Rows } from '#core/params/row.ts';

/** Settings far from the defaults, as the audio thread has them. */
export function unusualValues(rows: Rows): Float64Array {
  return Float64Array.from(Object.values(rows), (row: Row) => {
    if (row.kind !== 'number') return packValue(row, row.kind === 'choice' ? row.choices.at(-1)!.value : !row.default);
    if (row.curve === 'logarithmic') return Math.sqrt(row.min * row.max);
    return fitValue(row, row.min + 0.6 * (row.max - row.min));
  });
}
