/** The weighting that loudness is measured with (Recommendation ITU-R BS.1770-4, annex 1). */
import type { Biquad } from './biquad.ts';

/** `-0.691 + 10 log10(sum of mean squares)`: equation 2. */
const OFFSET_DB = -0.691;

/** Loudness in LUFS of the mean square of weighted channels, added up. */
export function loudnessOf(meanSquare: number): number {
  return OFFSET_DB + 10 * Math.log10(meanSquare);
}

/**
 * The two filters of the K-weighting at any rate: the analogue filters whose bilinear transform at 48 kHz has the
 * coefficients of BS.1770-4, tables 1 and 2 (shelf of 4 dB at 1682 Hz, high-pass at 38 Hz; derivation from memory).
 */
export function kWeighting(sampleRate: number): [shelf: Biquad, highPass: Biquad] {
  return [highShelf(1681.974450955533, 3.999843853973347, 0.7071752369554196, sampleRate), lowCut(sampleRate)];
}

function highShelf(hz: number, gainDb: number, q: number, sampleRate: number): Biquad {
  const k = Math.tan((Math.PI * hz) / sampleRate);
  const high = 10 ** (gainDb / 20);
  const band = high ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return {
    b0: (high + (band * k) / q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (band * k) / q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / q + k * k) / a0,
  };
}

function lowCut(sampleRate: number): Biquad {
  const q = 0.5003270373238773;
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate);
  const a0 = 1 + k / q + k * k;
  // As in table 2: its numerator is 1, -2, 1 whatever the denominator.
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}
