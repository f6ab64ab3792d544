/** The gentlest filters there are, of one pole: inside loops, and for tone. */
import { settled, type Samples } from './section.ts';

export class OnePole {
  private b = 1;
  private low = 0;

  reset(): void {
    this.low = 0;
  }

  /** @param hz where it is 3 dB down; by the bilinear transform's neighbour, `1 - exp(-2 pi f / rate)` */
  set(hz: number, sampleRate: number): void {
    this.b = hz >= sampleRate * 0.45 ? 1 : 1 - Math.exp((-2 * Math.PI * hz) / sampleRate);
  }

  /** Leaves of the first `count` samples what lies below. */
  runLow(samples: Samples, count: number): void {
    const { b } = this;
    let { low } = this;
    for (let i = 0; i < count; i++) samples[i] = low += (samples[i]! - low) * b;
    this.low = settled(low);
  }

  /** Leaves what lies above. @param share how much of what lies below is taken */
  runHigh(samples: Samples, count: number, share = 1): void {
    const { b } = this;
    let { low } = this;
    for (let i = 0; i < count; i++) {
      low += (samples[i]! - low) * b;
      samples[i]! -= low * share;
    }
    this.low = settled(low);
  }
}
