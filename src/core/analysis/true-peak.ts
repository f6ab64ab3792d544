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
  const meter = new TruePeakMeter();
  meter.push(samples);
  return meter.finish();
}

/** The same of a channel that comes piece by piece. */
export class TruePeakMeter {
  private peak = 0;
  /** What was before, as far as the filter reaches; before the beginning there is silence. */
  private before = new Float32Array(HALF - 1);

  push(samples: Float32Array): void {
    const all = new Float32Array(this.before.length + samples.length);
    all.set(this.before);
    all.set(samples, this.before.length);
    for (let i = 0; i < samples.length; i++) this.peak = Math.max(this.peak, Math.abs(samples[i]!));
    // Where the filter reaches to both sides.
    for (let i = HALF - 1; i < all.length - HALF; i++) this.lookBetween(all, i);
    this.before = all.slice(Math.max(0, all.length - 2 * HALF + 1));
  }

  /** Its end has come: silence follows. */
  finish(): number {
    this.push(new Float32Array(HALF));
    return this.peak;
  }

  /** The highest between a sample and the next. */
  private lookBetween(samples: Float32Array, i: number): void {
    const near = Math.max(Math.abs(samples[i]!), Math.abs(samples[i + 1]!));
    if (near * MOST_RISE <= this.peak) return;
    const from = i - HALF + 1;
    for (let phase = 0; phase < TAPS.length; phase++) {
      const taps = TAPS[phase]!;
      let sum = 0;
      for (let tap = 0; tap < 2 * HALF; tap++) sum += samples[from + tap]! * taps[tap]!;
      this.peak = Math.max(this.peak, Math.abs(sum));
    }
  }
}
