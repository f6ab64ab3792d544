/**
 * Another pitch on the way: two readers run through a short piece of the past, one half a round behind the other, and give
 * way to each other where each starts anew (the delay-line pitch shifter of J. Dattorro, "Effect design, part 2", JAES 45,
 * 1997, section on detuning).
 */
import { DelayMemory } from './delay-memory.ts';

const WINDOW_SECONDS = 0.06;
const LEAST_FRAMES = 4;

export class PitchTurn {
  private readonly memory: DelayMemory;
  private readonly window: number;
  private phase = 0;
  /** How much of it is in: at no other pitch nothing is. */
  private share = 0;

  constructor(sampleRate: number) {
    this.window = Math.round(WINDOW_SECONDS * sampleRate);
    this.memory = new DelayMemory(this.window + 16);
  }

  reset(): void {
    this.memory.reset();
    this.phase = this.share = 0;
  }

  /** In place. @param cents how much higher, sample by sample */
  run(samples: Float64Array, cents: Float64Array, count: number): void {
    for (let i = 0; i < count; i++) {
      const sample = samples[i]!;
      this.memory.write(sample);
      const wanted = cents[i] === 0 ? 0 : 1;
      this.share += Math.max(-1 / 512, Math.min(1 / 512, wanted - this.share));
      if (this.share === 0) continue;
      const phase = this.phase + (1 - 2 ** (cents[i]! / 1200)) / this.window;
      this.phase = phase - Math.floor(phase);
      const other = this.phase < 0.5 ? this.phase + 0.5 : this.phase - 0.5;
      const fade = Math.sin(Math.PI * this.phase) ** 2;
      const turned =
        this.memory.readBetween(LEAST_FRAMES + this.phase * this.window) * fade +
        this.memory.readBetween(LEAST_FRAMES + other * this.window) * (1 - fade);
      samples[i] = sample + (turned - sample) * this.share;
    }
  }
}
