/** Second-order filter sections, after R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients". */

/** Coefficients of one section, normalised so that a0 = 1. */
export interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/**
 * Band-pass with 0 dB at the centre.
 * @param centreHz between 0 and half the sample rate
 * @param q centre divided by bandwidth
 */
export function bandPass(centreHz: number, q: number, sampleRate: number): Biquad {
  const omega = (2 * Math.PI * centreHz) / sampleRate;
  const alpha = Math.sin(omega) / (2 * q);
  const a0 = 1 + alpha;
  return { b0: alpha / a0, b1: 0, b2: -alpha / a0, a1: (-2 * Math.cos(omega)) / a0, a2: (1 - alpha) / a0 };
}

/** High-pass, 12 dB an octave. */
export function highPass(cutoffHz: number, q: number, sampleRate: number): Biquad {
  const omega = (2 * Math.PI * cutoffHz) / sampleRate;
  const alpha = Math.sin(omega) / (2 * q);
  const cos = Math.cos(omega);
  const a0 = 1 + alpha;
  return {
    b0: (1 + cos) / 2 / a0,
    b1: -(1 + cos) / a0,
    b2: (1 + cos) / 2 / a0,
    a1: (-2 * cos) / a0,
    a2: (1 - alpha) / a0,
  };
}

/** Low-pass, 12 dB an octave. */
export function lowPass(cutoffHz: number, q: number, sampleRate: number): Biquad {
  const omega = (2 * Math.PI * cutoffHz) / sampleRate;
  const alpha = Math.sin(omega) / (2 * q);
  const cos = Math.cos(omega);
  const a0 = 1 + alpha;
  return {
    b0: (1 - cos) / 2 / a0,
    b1: (1 - cos) / a0,
    b2: (1 - cos) / 2 / a0,
    a1: (-2 * cos) / a0,
    a2: (1 - alpha) / a0,
  };
}

/** Filters a whole signal into `out` (transposed direct form II); `out` may be the signal itself. */
export function filterInto(section: Biquad, signal: Float32Array, out: Float32Array): void {
  new BiquadState(section).run(signal, out);
}

/** A filter that goes on from piece to piece of a signal. */
export class BiquadState {
  private s1 = 0;
  private s2 = 0;

  constructor(private readonly section: Biquad) {}

  /** @param out may be the signal itself */
  run(signal: Float32Array, out: Float32Array): void {
    const { b0, b1, b2, a1, a2 } = this.section;
    let { s1, s2 } = this;
    for (let i = 0; i < signal.length; i++) {
      const x = signal[i]!;
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      out[i] = y;
    }
    this.s1 = s1;
    this.s2 = s2;
  }
}
