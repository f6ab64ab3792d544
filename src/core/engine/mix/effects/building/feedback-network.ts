/**
 * What goes round in a room: sixteen delays, each fed by all of them through a Hadamard matrix, which keeps the power (J.-M.
 * Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators", AES 90th convention, 1991: each
 * delay is damped by as much as its length takes of the decay).
 */
import { CONTROL_FRAMES } from '../../../control/control-step.ts';
import { DelayMemory } from './delay-memory.ts';
import { scratch } from './scratch.ts';
import { settled } from './section.ts';

const LINES = 16;
/** `sqrt(1/2)` for each of the four times. */
const HADAMARD_SCALE = 1 / 4;
/** Lengths at full size, in ms: without a common measure. */
const LENGTHS_MS = [29.3, 31.7, 34.1, 37.3, 40.9, 44.3, 47.9, 52.1, 56.3, 60.7, 65.9, 71.3, 77.3, 83.9, 90.7, 98.3];
/** Every fourth one sways a little, so that no tone stands; in samples, at this rate. */
const SWAY_FRAMES = 5;
const SWAY_HZ = 0.31;

/** What comes out of each line, sample by sample. */
const cells = new Float64Array(LINES * CONTROL_FRAMES);
const sways = scratch();
const distances = scratch();
const got = scratch();
const outLeft = scratch();
const outRight = scratch();

export class FeedbackNetwork {
  private readonly memories: readonly DelayMemory[];
  private readonly lengths = new Float64Array(LINES);
  private readonly wanted = new Float64Array(LINES);
  private readonly gains = new Float64Array(LINES);
  private readonly lows = new Float64Array(LINES);
  private damping = 1;
  private level = 1;
  private size = 0;
  private decaySeconds = 0;
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
    this.damping = highHz >= 0.45 * this.sampleRate ? 1 : 1 - Math.exp((-2 * Math.PI * highHz) / this.sampleRate);
    if (!this.isNew && size === this.size && decaySeconds === this.decaySeconds) return;
    this.size = size;
    this.decaySeconds = decaySeconds;
    let lost = 0;
    for (let n = 0; n < LINES; n++) {
      // Whole frames: read as they are, but for those that sway.
      const length = Math.round((LENGTHS_MS[n]! / 1000) * this.sampleRate * size);
      if (this.isNew) this.lengths[n] = length;
      // Another size is reached in a tenth of a second: its pitch bends on the way.
      this.wanted[n] = length;
      this.gains[n] = 10 ** ((-3 * length) / this.sampleRate / decaySeconds);
      lost += 1 - this.gains[n]! ** 2;
    }
    this.isNew = false;
    // Power that stays in the network is power in over power lost: as loud whatever the size and the decay.
    this.level = Math.sqrt(lost / LINES) * 1.4;
  }

  /**
   * In: what goes in on each side; out: what comes out. All of a step is read before it is written: no line is as short.
   * @param songFrame of the first frame: what sways hangs on it
   */
  run(left: Float64Array, right: Float64Array, count: number, songFrame: number): void {
    for (let i = 0; i < count; i++) {
      sways[i] = SWAY_FRAMES * (1 + Math.sin((2 * Math.PI * SWAY_HZ * (songFrame + i)) / this.sampleRate));
      outLeft[i] = outRight[i] = 0;
    }
    for (let n = 0; n < LINES; n++) {
      this.readLine(n, count);
      const sign = (n & 2) === 0 ? 1 : -1;
      const out = (n & 1) === 0 ? outLeft : outRight;
      for (let i = 0; i < count; i++) out[i]! += sign * cells[n * CONTROL_FRAMES + i]!;
    }
    hadamard(count);
    for (let n = 0; n < LINES; n++) {
      const into = (n & 1) === 0 ? left : right;
      const sign = (n & 4) === 0 ? 0.35 : -0.35;
      const memory = this.memories[n]!;
      const at = n * CONTROL_FRAMES;
      for (let i = 0; i < count; i++) cells[at + i] = cells[at + i]! * HADAMARD_SCALE + sign * into[i]!;
      memory.writeFrom(cells, at, count);
    }
    for (let i = 0; i < count; i++) {
      left[i] = outLeft[i]! * this.level;
      right[i] = outRight[i]! * this.level;
    }
  }

  /** What comes out of a line, damped. */
  private readLine(n: number, count: number): void {
    const { damping } = this;
    const memory = this.memories[n]!;
    const wanted = this.wanted[n]!;
    const gain = this.gains[n]!;
    let length = this.lengths[n]!;
    let low = this.lows[n]!;
    const doesSway = (n & 3) === 0;
    const from = n * CONTROL_FRAMES;
    if (!doesSway && length === wanted) {
      memory.readFixed(length, cells, from, count);
      for (let i = 0; i < count; i++) {
        low += (cells[from + i]! - low) * damping;
        cells[from + i] = low * gain;
      }
      this.lows[n] = settled(low);
      return;
    }
    for (let i = 0; i < count; i++) {
      if (length !== wanted) length = Math.abs(wanted - length) < 0.01 ? wanted : length + (wanted - length) / 4410;
      const sway = (n & 4) === 0 ? sways[i]! : 2 * SWAY_FRAMES - sways[i]!;
      distances[i] = doesSway ? length + sway : length;
    }
    memory.readRun(distances, got, count);
    for (let i = 0; i < count; i++) {
      low += (got[i]! - low) * damping;
      cells[from + i] = low * gain;
    }
    this.lengths[n] = length;
    this.lows[n] = settled(low);
  }
}

/**
 * Sums and differences, four times over, two at a go: each line goes into all; with {@link HADAMARD_SCALE} no power is
 * lost.
 */
function hadamard(count: number): void {
  for (let apart = 1; apart < LINES; apart *= 4) {
    for (let from = 0; from < LINES; from += 4 * apart) {
      for (let n = from; n < from + apart; n++) mixFour(n, apart, count);
    }
  }
}

function mixFour(n: number, apart: number, count: number): void {
  const first = n * CONTROL_FRAMES;
  const second = (n + apart) * CONTROL_FRAMES;
  const third = (n + 2 * apart) * CONTROL_FRAMES;
  const fourth = (n + 3 * apart) * CONTROL_FRAMES;
  for (let i = 0; i < count; i++) {
    const a = cells[first + i]!;
    const b = cells[second + i]!;
    const c = cells[third + i]!;
    const d = cells[fourth + i]!;
    const sum = a + b;
    const difference = a - b;
    const otherSum = c + d;
    const otherDifference = c - d;
    cells[first + i] = sum + otherSum;
    cells[second + i] = difference + otherDifference;
    cells[third + i] = sum - otherSum;
    cells[fourth + i] = difference - otherDifference;
  }
}
