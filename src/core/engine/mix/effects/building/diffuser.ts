/** Allpasses in a row, which make many of one hit (M. Schroeder, "Natural sounding artificial reverberation", JAES 10, 1962). */

/** Lengths in ms, other ones for the other side. */
const LENGTHS_MS = [
  [1.31, 2.93, 5.17, 8.77],
  [1.49, 2.71, 5.63, 8.23],
] as const;
const GAIN = 0.62;

export class Diffuser {
  private readonly lines: readonly Float32Array[];
  private readonly places: Int32Array;

  constructor(sampleRate: number, side: 0 | 1) {
    this.lines = LENGTHS_MS[side].map((ms) => new Float32Array(Math.round((ms / 1000) * sampleRate)));
    this.places = new Int32Array(this.lines.length);
  }

  reset(): void {
    for (const line of this.lines) line.fill(0);
    this.places.fill(0);
  }

  /** In place. */
  run(samples: Float64Array, count: number): void {
    for (let a = 0; a < this.lines.length; a++) {
      const line = this.lines[a]!;
      let at = this.places[a]!;
      for (let i = 0; i < count; i++) {
        const late = line[at]!;
        const into = samples[i]! + GAIN * late;
        line[at] = Math.abs(into) < 1e-20 ? 0 : into;
        at = at + 1 === line.length ? 0 : at + 1;
        samples[i] = late - GAIN * into;
      }
      this.places[a] = at;
    }
  }
}
