/** How loud a signal is as it runs: short-term loudness over the last three seconds (EBU Tech 3341, section 2.2). */
import { kWeighting, loudnessOf } from '../../../../dsp/k-weighting.ts';
import type { Biquad } from '../../../../dsp/biquad.ts';

const WINDOW_STEPS = 30;
const STEP_SECONDS = 0.1;

/** One section, sample by sample, transposed. */
class Running {
  private z1 = 0;
  private z2 = 0;

  constructor(private readonly of: Biquad) {}

  reset(): void {
    this.z1 = this.z2 = 0;
  }

  /** In place. */
  run(samples: Float64Array, count: number): void {
    const { b0, b1, b2, a1, a2 } = this.of;
    let { z1, z2 } = this;
    for (let i = 0; i < count; i++) {
      const x = samples[i]!;
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      samples[i] = y;
    }
    this.z1 = Math.abs(z1) < 1e-20 ? 0 : z1;
    this.z2 = Math.abs(z2) < 1e-20 ? 0 : z2;
  }
}

export class RunningLoudness {
  private readonly sides: readonly (readonly [Running, Running])[];
  private readonly work = new Float64Array(128);
  /** Power of the last steps, and of the one that runs. */
  private readonly steps = new Float64Array(WINDOW_STEPS);
  private readonly stepFrames: number;
  private at = 0;
  private filled = 0;
  private power = 0;
  private frames = 0;

  constructor(sampleRate: number) {
    const [shelf, highPass] = kWeighting(sampleRate);
    this.sides = [0, 1].map(() => [new Running(shelf), new Running(highPass)] as const);
    this.stepFrames = Math.round(STEP_SECONDS * sampleRate);
  }

  reset(): void {
    for (const [shelf, highPass] of this.sides) {
      shelf.reset();
      highPass.reset();
    }
    this.steps.fill(0);
    this.at = this.filled = this.power = this.frames = 0;
  }

  /** @param count frames, at most 128 */
  run(left: Float32Array, right: Float32Array, count: number): void {
    this.runSide(0, left, count);
    this.runSide(1, right, count);
    this.frames += count;
    if (this.frames < this.stepFrames) return;
    this.steps[this.at] = this.power / this.frames;
    this.at = (this.at + 1) % WINDOW_STEPS;
    this.filled = Math.min(WINDOW_STEPS, this.filled + 1);
    this.power = this.frames = 0;
  }

  private runSide(side: 0 | 1, samples: Float32Array, count: number): void {
    const { work } = this;
    const [shelf, highPass] = this.sides[side]!;
    for (let i = 0; i < count; i++) work[i] = samples[i]!;
    shelf.run(work, count);
    highPass.run(work, count);
    for (let i = 0; i < count; i++) this.power += work[i]! * work[i]!;
  }

  /** In LUFS; minus infinity for silence, and before there was anything. */
  get lufs(): number {
    let sum = 0;
    for (let s = 0; s < this.filled; s++) sum += this.steps[s]!;
    return this.filled === 0 || sum === 0 ? -Infinity : loudnessOf(sum / this.filled);
  }
}
