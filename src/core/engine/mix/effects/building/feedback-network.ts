/**
 * What goes round in a room: sixteen delays, each fed by all of them through a Hadamard matrix, which keeps the power (J.-M.
 * Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators", AES 90th convention, 1991: each
 * delay is damped by as much as its length takes of the decay).
 */
import { DelayMemory } from './delay-memory.ts';

const LINES = 16;
/** Lengths at full size, in ms: without a common measure. */
const LENGTHS_MS = [29.3, 31.7, 34.1, 37.3, 40.9, 44.3, 47.9, 52.1, 56.3, 60.7, 65.9, 71.3, 77.3, 83.9, 90.7, 98.3];
/** Every second one sways a little, so that no tone stands; in samples, at these rates in Hz. */
const SWAY_FRAMES = 5;
const SWAY_HZ = 0.31;

export class FeedbackNetwork {
  private readonly memories: readonly DelayMemory[];
  private readonly lengths = new Float64Array(LINES);
  private readonly lengthSteps = new Float64Array(LINES);
  private readonly gains = new Float64Array(LINES);
  private readonly lows = new Float64Array(LINES);
  private readonly values = new Float64Array(LINES);
  private damping = 1;
  private level = 1;
  private isNew = true;

  constructor(private readonly sampleRate: number) {
    this.memories = LENGTHS_MS.map((ms) => new DelayMemory((ms / 1000) * sampleRate + 4 * SWAY_FRAMES + 8));
  }

  reset(): void {
    for (const memory of this.memories) memory.reset();
    this.lows.fill(0);

    this.isNew = true;
  }

  /** @param size 0..1 @param decaySeconds until it is 60 dB softer @param highHz above it treble is taken at each round */
  set(size: number, decaySeconds: number, highHz: number): void {
    let lost = 0;
    for (let n = 0; n < LINES; n++) {
      const length = (LENGTHS_MS[n]! / 1000) * this.sampleRate * size;
      if (this.isNew) this.lengths[n] = length;
      // Another size is reached in a tenth of a second: its pitch bends on the way.
      this.lengthSteps[n] = length;
      this.gains[n] = 10 ** ((-3 * length) / this.sampleRate / decaySeconds);
      lost += 1 - this.gains[n]! ** 2;
    }
    this.isNew = false;
    this.damping = highHz >= 0.45 * this.sampleRate ? 1 : 1 - Math.exp((-2 * Math.PI * highHz) / this.sampleRate);
    // Power that stays in the network is power in over power lost: as loud whatever the size and the decay.
    this.level = Math.sqrt(lost / LINES) * 1.4;
  }

  /** In: what goes in on each side; out: what comes out. @param songFrame of the first: what sways hangs on it */
  run(left: Float64Array, right: Float64Array, count: number, songFrame: number): void {
    for (let i = 0; i < count; i++) this.next(left, right, i, songFrame + i);
  }

  private next(left: Float64Array, right: Float64Array, at: number, songFrame: number): void {
    const { memories, values, lengths, lengthSteps, lows, gains } = this;
    const sway = SWAY_FRAMES * (1 + Math.sin((2 * Math.PI * SWAY_HZ * songFrame) / this.sampleRate));
    let outLeft = 0;
    let outRight = 0;
    for (let n = 0; n < LINES; n++) {
      const wanted = lengthSteps[n]!;
      if (lengths[n] !== wanted) {
        const by = (wanted - lengths[n]!) / 4410;
        lengths[n] = Math.abs(wanted - lengths[n]!) < 0.01 ? wanted : lengths[n]! + by;
      }
      const swayed = (n & 1) === 0 ? sway : 2 * SWAY_FRAMES - sway;
      const got = memories[n]!.readBetween(lengths[n]! + swayed);
      lows[n] = lows[n]! + (got - lows[n]!) * this.damping;
      if (Math.abs(lows[n]!) < 1e-20) lows[n] = 0;
      const value = lows[n]! * gains[n]!;
      values[n] = value;
      const sign = (n & 2) === 0 ? 1 : -1;
      if ((n & 1) === 0) outLeft += sign * value;
      else outRight += sign * value;
    }
    hadamard(values);
    for (let n = 0; n < LINES; n++) {
      const into = (n & 1) === 0 ? left[at]! : right[at]!;
      const sign = (n & 4) === 0 ? 1 : -1;
      memories[n]!.write(values[n]! + sign * into * 0.35);
    }
    left[at] = outLeft * this.level;
    right[at] = outRight * this.level;
  }
}

/** Sums and differences, four times over: each goes into all, with no power lost. */
function hadamard(values: Float64Array): void {
  for (let half = 1; half < LINES; half *= 2) {
    for (let from = 0; from < LINES; from += 2 * half) {
      for (let n = from; n < from + half; n++) {
        const a = values[n]!;
        const b = values[n + half]!;
        values[n] = a + b;
        values[n + half] = a - b;
      }
    }
  }
  for (let n = 0; n < LINES; n++) values[n]! *= 0.25;
}
