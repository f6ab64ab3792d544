/** A room: what the nearest walls send back, then what goes round and round; or a swell that runs backwards. */
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { Diffuser } from './building/diffuser.ts';
import { FeedbackNetwork } from './building/feedback-network.ts';
import { LevelFollower, perSample } from './building/level-follower.ts';
import { DelayMemory } from './building/delay-memory.ts';
import { OnePole } from './building/one-pole.ts';
import { Ramp, Ways } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import { SwellBackwards } from './building/swell-backwards.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const ROOM = slotsOf(EFFECT_ROWS.room);
const [ON, BACKWARDS, GATED] = [0, 1, 2];
const MOST_BEFORE_SECONDS = 0.5;
/** The nearest walls, in ms at full size, and what comes from each: left, right. */
const WALLS: readonly (readonly [ms: number, left: number, right: number])[] = [
  [7.3, 0.8, 0.35],
  [11.9, -0.3, 0.75],
  [17.1, 0.6, -0.45],
  [23.3, -0.5, 0.6],
  [31.7, 0.45, 0.4],
  [41.3, 0.3, -0.4],
];
const SMALLEST = 0.12;
/** Below this the sound has stopped. */
const SOUNDS_ABOVE = 0.003;
const GATE_MS = 12;

const delays = scratch();
const sizes = scratch();
const earlies = scratch();
const lates = scratch();
const widths = scratch();
const gates = scratch();
const inLeft = scratch();
const inRight = scratch();
const outLeft = scratch();
const outRight = scratch();
const swellLeft = scratch();
const swellRight = scratch();

export class RoomEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly before: readonly [DelayMemory, DelayMemory];
  private readonly diffusers: readonly [Diffuser, Diffuser];
  private readonly network: FeedbackNetwork;
  private readonly swells: readonly [SwellBackwards, SwellBackwards];
  private readonly lowCuts = [new OnePole(), new OnePole()] as const;
  private readonly ways = new Ways(3, 2048);
  private readonly delay = new Ramp();
  private readonly size = new Ramp();
  private readonly width = new Ramp();
  private readonly early = new Ramp();
  private readonly late = new Ramp();
  private readonly follower = new LevelFollower();
  private readonly gateStep: number;
  private cutFrames = 0;
  private quietFrames = 0;
  private open = 0;
  private rest = 44_100;
  /** Worked out only while it runs backwards: a decay that moves would cost more than the room. */
  private swellSeconds = 0;

  constructor(private readonly sampleRate: number) {
    const most = MOST_BEFORE_SECONDS * sampleRate + 0.06 * sampleRate + 64;
    this.before = [new DelayMemory(most), new DelayMemory(most)];
    this.diffusers = [new Diffuser(sampleRate, 0), new Diffuser(sampleRate, 1)];
    this.network = new FeedbackNetwork(sampleRate);
    this.swells = [new SwellBackwards(sampleRate, 1), new SwellBackwards(sampleRate, 2)];
    this.gateStep = perSample(GATE_MS, sampleRate);
    this.follower.set(0.5, 5, sampleRate);
  }

  /** Until it is 120 dB down. */
  get restFrames(): number {
    return this.rest;
  }

  set(values: Float64Array): void {
    const { sampleRate } = this;
    const size = SMALLEST + (1 - SMALLEST) * values[ROOM.size]!;
    const decay = values[ROOM.decaySeconds]!;
    this.ways.aim(values[ROOM.runs]!);
    this.delay.aim(Math.max(2, (values[ROOM.beforeMs]! / 1000) * sampleRate));
    this.size.aim(size);
    this.width.aim(values[ROOM.width]!);
    this.early.aim(values[ROOM.early]!);
    this.late.aim(values[ROOM.late]!);
    this.network.set(size, decay, values[ROOM.highCutHz]!);
    this.swellSeconds = Math.min(decay, SwellBackwards.MOST_SECONDS);
    for (const cut of this.lowCuts) cut.set(values[ROOM.lowCutHz]!, sampleRate);
    this.cutFrames = Math.round((values[ROOM.cutMs]! / 1000) * sampleRate);
    this.rest = Math.ceil((2.2 * decay + 2) * sampleRate);
  }

  reset(): void {
    for (const one of [...this.before, ...this.diffusers, ...this.swells, ...this.lowCuts]) one.reset();
    for (const ramp of [this.delay, this.size, this.width, this.early, this.late]) ramp.reset();
    this.network.reset();
    this.ways.reset();
    this.follower.reset();
    this.open = this.quietFrames = 0;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    const { before, ways } = this;
    this.delay.run(delays, frameCount);
    this.findGate(left, right, frameCount);
    this.takeIn(left, inLeft, 0, frameCount);
    this.takeIn(right, inRight, 1, frameCount);
    this.size.run(sizes, frameCount);
    this.early.run(earlies, frameCount);
    this.late.run(lates, frameCount);
    this.width.run(widths, frameCount);
    this.findEarly(before[0], outLeft, 1, frameCount);
    this.findEarly(before[1], outRight, 2, frameCount);
    this.diffusers[0].run(inLeft, frameCount);
    this.diffusers[1].run(inRight, frameCount);
    const isBackwards = ways.only !== ON && ways.only !== GATED;
    if (isBackwards) {
      for (let side = 0; side < 2; side++) this.swells[side]!.set(this.swellSeconds);
      swellLeft.set(inLeft);
      swellRight.set(inRight);
      this.swells[0].run(swellLeft, frameCount);
      this.swells[1].run(swellRight, frameCount);
    }
    this.network.run(inLeft, inRight, frameCount, moment.songFrame);
    for (let i = 0; i < frameCount; i++) {
      ways.next();
      const backwards = ways.shares[BACKWARDS]!;
      const running = 1 - backwards;
      const through = lates[i]! * (running - ways.shares[GATED]! * (1 - gates[i]!));
      const swell = isBackwards ? backwards * lates[i]! : 0;
      const l = outLeft[i]! * running + inLeft[i]! * through + swellLeft[i]! * swell;
      const r = outRight[i]! * running + inRight[i]! * through + swellRight[i]! * swell;
      const mid = (l + r) / 2;
      const side = ((l - r) / 2) * widths[i]!;
      left[i] = mid + side;
      right[i] = mid - side;
    }
  }

  /** What comes in, with the delay before it. */
  private takeIn(samples: Float32Array, into: Float64Array, side: 0 | 1, count: number): void {
    const memory = this.before[side];
    for (let i = 0; i < count; i++) into[i] = samples[i]!;
    this.lowCuts[side].runHigh(into, count);
    memory.writeRun(into, count);
    // Written already: each lies so much further back.
    if (isSteady(delays, count)) {
      into.fill(0, 0, count);
      memory.addBetween(delays[0]!, 1, into, count);
    } else for (let i = 0; i < count; i++) into[i] = memory.readBetween(delays[i]! + count - 1 - i);
  }

  private findEarly(memory: DelayMemory, into: Float64Array, place: 1 | 2, count: number): void {
    if (isSteady(earlies, count) && isSteady(sizes, count) && isSteady(delays, count)) {
      into.fill(0, 0, count);
      if (earlies[0]! === 0) return;
      const scale = sizes[0]! * (this.sampleRate / 1000);
      for (let w = 0; w < WALLS.length; w++) {
        memory.addBetween(delays[0]! + WALLS[w]![0] * scale, earlies[0]! * WALLS[w]![place], into, count);
      }
      return;
    }
    for (let i = 0; i < count; i++) {
      let sum = 0;
      if (earlies[i]! > 0) {
        const scale = sizes[i]! * (this.sampleRate / 1000);
        for (let w = 0; w < WALLS.length; w++) {
          sum += WALLS[w]![place] * memory.readBetween(delays[i]! + WALLS[w]![0] * scale + count - 1 - i);
        }
      }
      into[i] = earlies[i]! * sum;
    }
  }

  /** Open while something comes in, and so long after. */
  private findGate(left: Float32Array, right: Float32Array, count: number): void {
    for (let i = 0; i < count; i++) {
      const sounds = this.follower.next(Math.max(Math.abs(left[i]!), Math.abs(right[i]!))) > SOUNDS_ABOVE;
      this.quietFrames = sounds ? 0 : this.quietFrames + 1;
      const wanted = this.quietFrames <= this.cutFrames ? 1 : 0;
      this.open += (wanted - this.open) * this.gateStep;
      gates[i] = this.open;
    }
  }
}

/** Of a ramp: does it stand? It goes one way only. */
function isSteady(values: Float64Array, count: number): boolean {
  return values[0] === values[count - 1];
}
