/** Shifts all frequencies by as many Hz: one side band of a carrier, by the signal and the same a quarter of a round later. */
import { turn } from '../../../dsp/turns.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { DelayMemory } from './building/delay-memory.ts';
import { QuarterTurn } from './building/quarter-turn.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, StereoBus } from './effect.ts';

const SHIFTER = slotsOf(EFFECT_ROWS.shifter);
const MOST_SECONDS = 0.5;
/** What comes back is read before this step is written. */
const LEAST_FRAMES = 36;
const cosines = scratch();
const phases = scratch();
const sines = scratch();
const others = scratch();
const shifts = scratch();
const feedbacks = scratch();
const delays = scratch();
const now = scratch();
const later = scratch();

export class ShifterEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly turns = [new QuarterTurn(), new QuarterTurn()] as const;
  private readonly memories: readonly [DelayMemory, DelayMemory];
  private readonly shift = new Ramp();
  private readonly apart = new Ramp();
  private readonly feedback = new Ramp();
  private readonly delay = new Ramp();
  private phase = 0;
  private rest = 8820;

  constructor(private readonly sampleRate: number) {
    const frames = MOST_SECONDS * sampleRate + 8;
    this.memories = [new DelayMemory(frames), new DelayMemory(frames)];
  }

  /** With feedback, until what goes round is 120 dB down. */
  get restFrames(): number {
    return this.rest;
  }

  set(values: Float64Array): void {
    const feedback = values[SHIFTER.feedback]!;
    const frames = Math.max(LEAST_FRAMES, (values[SHIFTER.delayMs]! / 1000) * this.sampleRate);
    this.shift.aim(values[SHIFTER.shiftHz]! / this.sampleRate);
    this.apart.aim(values[SHIFTER.sides]!);
    this.feedback.aim(feedback);
    this.delay.aim(frames);
    this.rest = 8820 + (feedback > 0 ? Math.ceil((frames * -6) / Math.log10(feedback)) : 0);
  }

  reset(): void {
    for (const one of [...this.turns, ...this.memories]) one.reset();
    for (const ramp of [this.shift, this.apart, this.feedback, this.delay]) ramp.reset();
    this.phase = 0;
  }

  process({ left, right }: StereoBus, frameCount: number): void {
    this.feedback.run(feedbacks, frameCount);
    this.delay.run(delays, frameCount);
    this.apart.run(others, frameCount);
    this.shift.run(shifts, frameCount);
    let { phase } = this;
    for (let i = 0; i < frameCount; i++) {
      phases[i] = phase;
      // The other way round is the other side band.
      others[i] = 1 - 2 * others[i]!;
      phase += shifts[i]!;
      phase -= Math.floor(phase);
    }
    this.phase = phase;
    turn(phases, sines, cosines, frameCount);
    this.run(0, left, frameCount);
    this.run(1, right, frameCount);
  }

  private run(side: 0 | 1, samples: Float32Array, count: number): void {
    const memory = this.memories[side];
    memory.readRun(delays, now, count);
    for (let i = 0; i < count; i++) now[i] = samples[i]! + feedbacks[i]! * now[i]!;
    this.turns[side].run(now, later, count);
    for (let i = 0; i < count; i++) {
      now[i] = now[i]! * cosines[i]! + later[i]! * sines[i]! * (side === 0 ? 1 : others[i]!);
      samples[i] = now[i]!;
    }
    memory.writeRun(now, count);
  }
}
