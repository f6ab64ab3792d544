/** Samples are compared as numbers: the usual comparison takes a third of a second for one second of sound. */
import { expect } from 'vitest';

type Samples = Float32Array | Float64Array;
const isSamples = (value: unknown): value is Samples => value instanceof Float32Array || value instanceof Float64Array;

expect.addEqualityTesters([
  (a: unknown, b: unknown) => {
    if (!isSamples(a) || !isSamples(b) || a.constructor !== b.constructor || a.length !== b.length) return undefined;
    // What differs is told by the usual comparison.
    for (let i = 0; i < a.length; i++) if (!Object.is(a[i], b[i])) return undefined;
    return true;
  },
]);
