/** What somebody typed into a number field. */
export interface NumberRange {
  label: string;
  min: number;
  max: number;
  unit: string;
}

export interface ReadNumber {
  /** Within the range; null where no number was typed. */
  value: number | null;
  /** What was wrong, in words for the person who typed it; null when nothing was. */
  problem: string | null;
}

/** Takes a comma or a point, and the unit behind the number or none; nothing typed changes nothing. */
export function readNumber(text: string, { label, min, max, unit }: NumberRange): ReadNumber {
  const typed = text.trim();
  const bare = unit && typed.endsWith(unit) ? typed.slice(0, -unit.length) : typed;
  if (bare.trim() === '') return { value: null, problem: null };
  const number = Number(bare.replace(',', '.'));
  const range = `“${label}” goes from ${min} to ${max}${unit && ` ${unit}`}`;
  if (!Number.isFinite(number)) {
    return { value: null, problem: `“${typed}” is no number, so nothing has changed: ${range}.` };
  }
  const value = Math.max(min, Math.min(max, number));
  return { value, problem: value === number ? null : `${range}: ${number} has become ${value}.` };
}
