/**
 * Values that are worked out of declared inputs, and again only when one of those is another. What works them out is given
 * its inputs and nothing else, so that there is no list of what to compare that could lack one.
 */

/** Plain records and lists are compared by what they hold; all else (samples, tables, objects with a class) by identity. */
export function isSameInput(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) {
    return a.length === b.length && a.every((item, index) => isSameInput(item, b[index]));
  }
  if (!isPlain(a) || !isPlain(b)) return false;
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => name in b && isSameInput(a[name], b[name]));
}

function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;
}

/** One kind of value, kept by the id of what it is of. */
export class Derivation<Inputs extends object, Value> {
  private readonly known = new Map<string, { inputs: Inputs; value: Value }>();

  /**
   * @param compute of the inputs, and of nothing else that changes
   * @param isAlike two values that say the same: the one before is kept
   */
  constructor(
    private readonly compute: (inputs: Inputs, id: string) => Value,
    private readonly isAlike: (before: Value, now: Value) => boolean = Object.is,
  ) {}

  /** The very same value as the last time for this id, as long as it says the same. */
  of(id: string, inputs: Inputs): Value {
    const known = this.known.get(id);
    if (known && isSameInput(known.inputs, inputs)) return known.value;
    const now = this.compute(inputs, id);
    const value = known && this.isAlike(known.value, now) ? known.value : now;
    this.known.set(id, { inputs, value });
    return value;
  }

  /** What is known of an id. */
  last(id: string): Value | undefined {
    return this.known.get(id)?.value;
  }

  /** Lets go of what is of no id among these. @returns the ids that went */
  keepOnly(ids: ReadonlySet<string>): string[] {
    if (this.known.size === ids.size) return [];
    const gone = [...this.known.keys()].filter((id) => !ids.has(id));
    for (const id of gone) this.known.delete(id);
    return gone;
  }

  get values(): readonly Value[] {
    return [...this.known.values()].map(({ value }) => value);
  }
}

/** See {@link Derivation}. */
export function derive<Inputs extends object, Value>(
  compute: (inputs: Inputs, id: string) => Value,
  isAlike?: (before: Value, now: Value) => boolean,
): Derivation<Inputs, Value> {
  return new Derivation(compute, isAlike);
}
