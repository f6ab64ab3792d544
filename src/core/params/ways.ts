/** The way of a setting between its ends, as shares of it: how a slider or a controller goes over it. */
import { fitValue, type Row } from './row.ts';

export type WayValue = number | string | boolean;

/**
 * The value at a share 0..1 of the way: evenly, or by equal factors where the row goes by those; of a choice one after
 * another; a toggle is on from the middle.
 */
export function valueAt(row: Row, share: number): WayValue {
  const within = Math.max(0, Math.min(1, share));
  if (row.kind === 'toggle') return within >= 0.5;
  if (row.kind === 'choice') {
    return row.choices[Math.min(row.choices.length - 1, Math.floor(within * row.choices.length))]!.value;
  }
  const { min, max, curve, multipleOf } = row;
  const value = curve === 'logarithmic' ? min * (max / min) ** within : min + within * (max - min);
  const fitted = fitValue(row, multipleOf ? Math.round(value / multipleOf) * multipleOf : value);
  // No more digits than are shown: what a controller sets reads as what was typed.
  const fine = 10 ** (row.digits + 2);
  return fitValue(row, Math.round(fitted * row.scale * fine) / fine / row.scale);
}

/** The share of the way at which a value stands; of a choice the middle of its stretch. */
export function shareOf(row: Row, value: unknown): number {
  if (row.kind === 'toggle') return value === true ? 1 : 0;
  if (row.kind === 'choice') {
    const at = row.choices.findIndex((one) => one.value === value);
    return (Math.max(0, at) + 0.5) / row.choices.length;
  }
  const { min, max, curve } = row;
  const number = value as number;
  if (max === min) return 0;
  return curve === 'logarithmic' ? Math.log(number / min) / Math.log(max / min) : (number - min) / (max - min);
}

/** By how much of the way one step of a dial that tells turns moves it. */
export function turnStep(row: Row): number {
  if (row.kind === 'number') return row.isWhole && row.max - row.min <= 128 ? 1 / (row.max - row.min) : 1 / 128;
  return row.kind === 'choice' ? 1 / row.choices.length : 1;
}
