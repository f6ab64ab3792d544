/** A number with so many digits at most, none of them for nothing. */
export function fixed(value: number, digits: number): number {
  return Number(value.toFixed(digits)) + 0;
}
