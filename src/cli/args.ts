/** Reads command-line options with node's own parser and turns mistakes into usage errors. */

/** A mistake in the call itself: exit code 2. */
export class UsageError extends Error {}

/** Writes `--name -3` as `--name=-3`: the parser would take the number for an option of its own. */
export function joinNegativeNumbers(args: readonly string[]): string[] {
  const joined: string[] = [];
  for (const arg of args) {
    const option = joined.at(-1);
    if (/^-\.?\d/.test(arg) && option !== undefined && /^--[\w-]+$/.test(option))
      joined[joined.length - 1] += `=${arg}`;
    else joined.push(arg);
  }
  return joined;
}

/** A number in a range, or the default; anything else is a usage error that names the option. */
export function numberOption(
  values: Record<string, unknown>,
  name: string,
  range: { min: number; max: number; fallback?: number; whole?: boolean },
): number | undefined {
  const text = values[name];
  if (text === undefined) return range.fallback;
  const value = typeof text === 'string' && text.trim() !== '' ? Number(text) : NaN;
  if (!(value >= range.min && value <= range.max) || (range.whole && !Number.isInteger(value))) {
    throw new UsageError(
      `--${name} takes ${range.whole ? 'a whole number' : 'a number'} from ${range.min} to ${range.max}, not "${String(text)}"`,
    );
  }
  return value;
}

/** One of a few words. */
export function choiceOption<Choice extends string>(
  values: Record<string, string | boolean | undefined>,
  name: string,
  choices: readonly Choice[],
  fallback: Choice,
): Choice {
  const given = values[name] ?? fallback;
  const choice = choices.find((one) => one === given);
  if (!choice) throw new UsageError(`--${name} is one of ${choices.join(', ')}, not "${given}"`);
  return choice;
}
