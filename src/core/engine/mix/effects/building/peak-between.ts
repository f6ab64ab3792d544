/**
 * The highest point of a signal around a sample, looked at four times a sample through a windowed sinc: as long as that
 * which measures the mix, so that an abrupt start counts for as much.
 */

const TAPS = 48;
const PHASES = 4;

/** Taps of the three places between two samples. */
const TABLE: readonly Float64Array[] = Array.from({ length: PHASES - 1 }, (_, phase) => {
  const at = (phase + 1) / PHASES;
  const taps = Float64Array.from({ length: TAPS }, (_tap, tap) => {
    const x = tap - TAPS / 2 + at;
    // Hann, from end to end.
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * Math.cos((Math.PI * x) / TAPS) ** 2;
  });
  const sum = taps.reduce((all, tap) => all + tap, 0);
  return taps.map((tap) => tap / sum);
});

/** A wave between samples goes no higher than this over those around it, but for signals that nobody plays. */
const MOST_RISE = 2;

export class PeakBetween {
  /** How much later what is told was in the signal. */
  static readonly DELAY_FRAMES = TAPS / 2;
  private readonly past = new Float64Array(2 * TAPS);
  private at = 0;

  reset(): void {
    this.past.fill(0);
    this.at = 0;
  }

  /**
   * The highest absolute values from the sample {@link DELAY_FRAMES} before each to the one after that.
   * @param into keeps what is higher there
   * @param floor what surely stays below it is not looked at between its samples
   */
  run(samples: Float32Array, into: Float64Array, count: number, floor = 0): void {
    const { past } = this;
    for (let i = 0; i < count; i++) {
      // Written twice, so that the last ones always lie in a row.
      past[this.at] = past[this.at + TAPS] = samples[i]!;
      this.at = this.at + 1 === TAPS ? 0 : this.at + 1;
      const last = this.at + TAPS - 1;
      const near = Math.max(Math.abs(past[last - TAPS / 2]!), Math.abs(past[last - TAPS / 2 + 1]!));
      let highest = Math.max(into[i]!, near);
      if (near * MOST_RISE <= floor) {
        into[i] = highest;
        continue;
      }
      for (let phase = 0; phase < TABLE.length; phase++) {
        const taps = TABLE[phase]!;
        let sum = 0;
        for (let tap = 0; tap < TAPS; tap++) sum += taps[tap]! * past[last - tap]!;
        highest = Math.max(highest, Math.abs(sum));
      }
      into[i] = highest;
    }
  }
}
