/**
 * A ladder of four poles with its feedback solved and a soft limit where the loop comes in (V. Zavalishin, "The Art of VA
 * Filter Design", 2.1, chapter 5: the transistor ladder with trapezoidal integrators; its linear part is solved without
 * delay, the limit taken at the last estimate). Its taps mixed give the other shapes (the same, section 5.5).
 */

const MAX_SHARE = 0.45;
/** Feedback at which it would ring on for ever is 4: it stays just below. */
const MOST_FEEDBACK = 3.95;
/** Weights of input and of the four poles: low of one to four poles, high, band, notch and peak. */
const TAPS: readonly (readonly (readonly number[])[])[] = [
  [
    [0, 1, 0, 0, 0],
    [0, 0, 1, 0, 0],
    [0, 0, 0, 0, 1],
    [0, 0, 0, 0, 1],
    [0, 0, 0, 0, 1],
  ],
  [
    [1, -1, 0, 0, 0],
    [1, -2, 1, 0, 0],
    [1, -4, 6, -4, 1],
    [1, -4, 6, -4, 1],
    [1, -4, 6, -4, 1],
  ],
  [
    [0, 2, -2, 0, 0],
    [0, 2, -2, 0, 0],
    [0, 0, 4, -8, 4],
    [0, 0, 4, -8, 4],
    [0, 0, 4, -8, 4],
  ],
  [
    [1, -2, 2, 0, 0],
    [1, -2, 2, 0, 0],
    [1, -4, 8, -8, 4],
    [1, -4, 8, -8, 4],
    [1, -4, 8, -8, 4],
  ],
  [
    [1, 0, 0, 0, 1],
    [1, 0, 0, 0, 1],
    [1, 0, 0, 0, 1],
    [1, 0, 0, 0, 1],
    [1, 0, 0, 0, 1],
  ],
];

export class Ladder {
  private readonly states = [new Float64Array(4), new Float64Array(4)] as const;
  private g = 0;
  private feedback = 0;
  private drive = 1;

  constructor(private readonly sampleRate: number) {}

  reset(): void {
    for (const state of this.states) state.fill(0);
  }

  set(cutoffHz: number, resonance: number, drive: number): void {
    this.g = Math.tan(Math.PI * Math.min(cutoffHz / this.sampleRate, MAX_SHARE));
    this.feedback = MOST_FEEDBACK * resonance;
    this.drive = drive;
  }

  process(left: Float32Array, right: Float32Array, count: number, shape: number, slope: number): void {
    this.run(this.states[0], left, count, TAPS[shape]![slope]!);
    this.run(this.states[1], right, count, TAPS[shape]![slope]!);
  }

  private run(state: Float64Array, samples: Float32Array, count: number, taps: readonly number[]): void {
    const { g, feedback, drive } = this;
    const pole = g / (1 + g);
    const [t0, t1, t2, t3, t4] = taps as [number, number, number, number, number];
    const p4 = pole ** 4;
    for (let i = 0; i < count; i++) {
      const s1 = state[0]!;
      const s2 = state[1]!;
      const s3 = state[2]!;
      const s4 = state[3]!;
      // What the last pole would give for no input, then the loop solved.
      const rest = (s4 + pole * (s3 + pole * (s2 + pole * s1))) / (1 + g);
      const input = samples[i]! * drive;
      const open = (input - feedback * rest) / (1 + feedback * p4);
      const u = Math.tanh(open);
      let v = pole * (u - s1);
      const y1 = v + s1;
      state[0] = y1 + v;
      v = pole * (y1 - s2);
      const y2 = v + s2;
      state[1] = y2 + v;
      v = pole * (y2 - s3);
      const y3 = v + s3;
      state[2] = y3 + v;
      v = pole * (y3 - s4);
      const y4 = v + s4;
      state[3] = y4 + v;
      samples[i] = (t0 * u + t1 * y1 + t2 * y2 + t3 * y3 + t4 * y4) / drive;
    }
    for (let s = 0; s < 4; s++) if (Math.abs(state[s]!) < 1e-20) state[s] = 0;
  }
}
