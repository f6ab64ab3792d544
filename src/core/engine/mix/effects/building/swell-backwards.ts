/**
 * A room that runs backwards: it swells up to where a room begins, then stops. Its response is a sparse row of positive and
 * negative ones, which sounds as smooth as noise ("velvet noise": M. Karjalainen and H. Järveläinen, "Reverberation modeling
 * using velvet noise", AES 30th conference, 2007).
 */
import { mix32 } from '../../../../units/hash.ts';
import { DelayMemory } from './delay-memory.ts';

/** Ones a second: few, for what comes in has been made many by allpasses. */
const DENSITY = 320;

export class SwellBackwards {
  static readonly MOST_SECONDS = 2;
  private readonly memory: DelayMemory;
  private readonly places: Int32Array;
  private readonly signs: Float64Array;
  private readonly gains: Float64Array;
  private count = 0;

  constructor(sampleRate: number, seed: number) {
    const most = SwellBackwards.MOST_SECONDS * DENSITY;
    this.memory = new DelayMemory(SwellBackwards.MOST_SECONDS * sampleRate + 64);
    this.places = new Int32Array(most);
    this.signs = new Float64Array(most);
    this.gains = new Float64Array(most);
    const grid = sampleRate / DENSITY;
    for (let k = 0; k < most; k++) {
      const drawn = mix32(seed, k);
      this.places[k] = 1 + Math.floor(grid * (k + (drawn & 0xffff) / 0x10000));
      this.signs[k] = drawn & 0x10000 ? 1 : -1;
    }
  }

  reset(): void {
    this.memory.reset();
  }

  /** @param seconds of the swell */
  set(seconds: number): void {
    const count = Math.max(1, Math.floor(seconds * DENSITY));
    if (count === this.count) return;
    this.count = count;
    let power = 0;
    for (let k = 0; k < this.count; k++) {
      // 40 dB from its start to its end.
      this.gains[k] = 10 ** (2 * (k / this.count - 1)) * this.signs[k]!;
      power += this.gains[k]! ** 2;
    }
    const level = 1 / Math.sqrt(power);
    for (let k = 0; k < this.count; k++) this.gains[k]! *= level;
  }

  /** In: what goes in; out: what comes out. */
  run(samples: Float64Array, frameCount: number): void {
    const { memory, places, gains, count } = this;
    for (let i = 0; i < frameCount; i++) {
      memory.write(samples[i]!);
      let sum = 0;
      for (let k = 0; k < count; k++) sum += gains[k]! * memory.read(places[k]!);
      samples[i] = sum;
    }
  }
}
