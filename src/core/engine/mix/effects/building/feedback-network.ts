/**
 * What goes round in a room: sixteen delays, each fed by all of them through a Hadamard matrix, which keeps the power (J.-M.
 * Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators", AES 90th convention, 1991: each
 * delay is damped by as much as its length takes of the decay).
 */
import { turn } from '../../../../dsp/turns.ts';
import { kernels } from '../../../../kernels/kernels.ts';
import { DelayMemory } from './delay-memory.ts';
import { scratch } from './scratch.ts';
import { settled } from './section.ts';

/** What the kernels work on: see `kernels/assembly/network.ts`. */
const kernel = kernels();
const LINES = kernel.value('NETWORK_LINES');
const RUN = kernel.value('NETWORK_RUN');
/** What comes out of a line, sample by sample, then of the next one; and what goes into them. */
const cells = kernel.floats('networkCells', LINES * RUN);
/** Left and right in turn. */
const sides = kernel.doubles('networkSides', 2 * RUN);
const workLows = kernel.doubles('networkLows', LINES);
const workGains = kernel.doubles('networkGains', LINES);
/** Lengths at full size, in ms: without a common measure. */
const LENGTHS_MS = [29.3, 31.7, 34.1, 37.3, 40.9, 44.3, 47.9, 52.1, 56.3, 60.7, 65.9, 71.3, 77.3, 83.9, 90.7, 98.3];
/** Every fourth one sways a little, so that no tone stands; in samples, at this rate. */
const SWAY_FRAMES = 5;
const SWAY_HZ = 0.31;

const rounds = scratch();
const sways = scratch();
const cosines = scratch();
const distances = scratch();
const got = scratch();

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
    for (let i = 0; i < count; i++) rounds[i] = (SWAY_HZ * Math.max(0, songFrame + i)) / this.sampleRate;
    turn(rounds, sways, cosines, count);
    for (let i = 0; i < count; i++) {
      sways[i] = SWAY_FRAMES * (1 + sways[i]!);
      sides[2 * i] = left[i]!;
      sides[2 * i + 1] = right[i]!;
    }
    for (let n = 0; n < LINES; n++) this.readLine(n, count);
    workLows.set(this.lows);
    workGains.set(this.gains);
    kernel.runNetwork(count, this.damping, this.level);
    for (let n = 0; n < LINES; n++) {
      this.lows[n] = settled(workLows[n]!);
      this.memories[n]!.writeFrom(cells, n * RUN, count);
    }
    for (let i = 0; i < count; i++) {
      left[i] = sides[2 * i]!;
      right[i] = sides[2 * i + 1]!;
    }
  }

  /** What comes out of a line. */
  private readLine(n: number, count: number): void {
    const memory = this.memories[n]!;
    const wanted = this.wanted[n]!;
    let length = this.lengths[n]!;
    const doesSway = (n & 3) === 0;
    const from = n * RUN;
    if (!doesSway && length === wanted) {
      memory.readFixed(length, cells, from, count);
      return;
    }
    for (let i = 0; i < count; i++) {
      if (length !== wanted) length = Math.abs(wanted - length) < 0.01 ? wanted : length + (wanted - length) / 4410;
      const sway = (n & 4) === 0 ? sways[i]! : 2 * SWAY_FRAMES - sways[i]!;
      distances[i] = doesSway ? length + sway : length;
    }
    memory.readRun(distances, got, count);
    for (let i = 0; i < count; i++) cells[from + i] = got[i]!;
    this.lengths[n] = length;
  }
}
