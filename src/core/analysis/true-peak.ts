/**
 * The true peak: how high the wave goes between its samples. By interpolation at four times the rate, as Recommendation
 * ITU-R BS.1770-4, annex 2, asks for; with a longer filter than its 48 taps (a windowed sinc of 24 samples to either side).
 */

const PHASES = 4;
const HALF = 24;
/** A wave between samples goes no higher than this over those around it, but for signals that nobody plays. */
const MOST_RISE = 2;

/** Taps of the phases between two samples, the sample itself left out. */
const TAPS = Array.from({ length: PHASES - 1 }, (_, phase) => {
  const shift = (phase + 1) / PHASES;
  const taps = Float64Array.from({ length: 2 * HALF }, (_, tap) => {
    const x = tap - HALF + 1 - shift;
    const sinc = Math.sin(Math.PI * x) / (Math.PI * x);
    // Hann, from end to end.
    return sinc * Math.cos((Math.PI * x) / (2 * HALF)) ** 2;
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
});

/** Highest amplitude of a channel, between its samples too. */
export function truePeak(samples: Float32Array): number {
  let peak = 0;
  for (let i = 0; i < samples.length; i++) peak = Math.max(peak, Math.abs(samples[i]!));
  for (let i = 0; i < samples.length - 1; i++) {
    const near = Math.max(Math.abs(samples[i]!), Math.abs(samples[i + 1]!));
    if (near * MOST_RISE <= peak) continue;
    const from = i - HALF + 1;
    const first = Math.max(0, -from);
    const last = Math.min(2 * HALF, samples.length - from);
    for (let phase = 0; phase < TAPS.length; phase++) {
      const taps = TAPS[phase]!;
      let sum = 0;
      for (let tap = first; tap < last; tap++) sum += samples[from + tap]! * taps[tap]!;
      peak = Math.max(peak, Math.abs(sum));
    }
  }
  return peak;
}
