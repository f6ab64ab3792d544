/**
 * The gentlest filters there are, of one pole: inside loops, and for tone. With a trapezoidal integrator (V. Zavalishin, "The
 * Art of VA Filter Design", 2.1, section 3.10): at its cutoff it is 3 dB down, wherever that is.
 */
import { settled, type Samples } from './section.ts';

/** From here on nothing lies above that could be taken. */
const OPEN_SHARE = 0.45;

export class OnePole {
  /** `g / (1 + g)`; 1 where all passes. */
  private pole = 1;
  private state = 0;

  reset(): void {
    this.state = 0;
  }

  set(hz: number, sampleRate: number): void {
    const g = Math.tan((Math.PI * Math.min(hz, OPEN_SHARE * sampleRate)) / sampleRate);
    this.pole = hz >= OPEN_SHARE * sampleRate ? 1 : g / (1 + g);
  }

  /** Leaves of the first `count` samples what lies below. */
  runLow(samples: Samples, count: number): void {
    const { pole } = this;
    if (pole === 1) {
      // Where it closes it goes on from what has passed.
      this.state = samples[count - 1]!;
      return;
    }
    let { state } = this;
    for (let i = 0; i < count; i++) {
      const v = (samples[i]! - state) * pole;
      const low = v + state;
      state = low + v;
      samples[i] = low;
    }
    this.state = settled(state);
  }

  /** Leaves what lies above. @param share how much of what lies below is taken */
  runHigh(samples: Samples, count: number, share = 1): void {
    const { pole } = this;
    let { state } = this;
    for (let i = 0; i < count; i++) {
      const v = (samples[i]! - state) * pole;
      const low = v + state;
      state = low + v;
      samples[i]! -= low * share;
    }
    this.state = settled(state);
  }
}
