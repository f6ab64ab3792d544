/** Repeats the last stretch of what sounded, as long as it is caught. */
import { NOTE_QUARTERS } from '../../../params/effect-rows/common.ts';
import { EFFECT_ROWS } from '../../../params/effects.ts';
import { slotsOf } from '../../../params/row.ts';
import { dbToGain } from '../../../units/level.ts';
import { DelayMemory } from './building/delay-memory.ts';
import { noteFrames } from './building/note-round.ts';
import { Ramp } from './building/ramp.ts';
import { scratch } from './building/scratch.ts';
import type { Effect, Moment, StereoBus } from './effect.ts';

const CATCH = slotsOf(EFFECT_ROWS.catch);
const MOST_SECONDS = 8;
/** Where a round goes over into the next, and the sound into what was caught. */
const SEAM_FRAMES = 128;

const places = scratch();
const seamPlaces = scratch();
const levels = scratch();
const seamLevels = scratch();
const shares = scratch();

export class CatchEffect implements Effect {
  readonly latencyFrames = 0;
  private readonly memories: readonly [DelayMemory, DelayMemory];
  private readonly speed = new Ramp();
  private wanted = false;
  private quarters = 1;
  private isBackwards = false;
  private fall = 1;
  /** What is caught: how long it is, and where in it. The memory stays as it is meanwhile. */
  private isCaught = false;
  private frames = 0;
  private at = 0;
  private level = 1;
  /** 0: the sound itself, 1: what was caught. */
  private share = 0;

  constructor(private readonly sampleRate: number) {
    const most = MOST_SECONDS * sampleRate;
    this.memories = [new DelayMemory(most), new DelayMemory(most)];
  }

  /** What is caught sounds on. */
  get restFrames(): number {
    return this.isCaught || this.wanted ? Infinity : MOST_SECONDS * this.sampleRate;
  }

  set(values: Float64Array): void {
    this.wanted = values[CATCH.caught]! >= 0.5;
    this.quarters = NOTE_QUARTERS[values[CATCH.length]!]!;
    this.isBackwards = values[CATCH.runs] === 1;
    this.speed.aim(values[CATCH.speed]!);
    this.fall = dbToGain(-values[CATCH.fallDb]!);
  }

  reset(): void {
    for (const memory of this.memories) memory.reset();
    this.speed.reset();
    this.isCaught = false;
    this.share = this.at = 0;
    this.level = 1;
  }

  process({ left, right }: StereoBus, frameCount: number, moment: Moment): void {
    if (this.wanted && !this.isCaught && this.share === 0) this.begin(moment);
    const caught = this.findPlaces(frameCount);
    this.mix(this.memories[0], left, caught);
    this.mix(this.memories[1], right, caught);
    if (caught === frameCount) return;
    this.isCaught &&= this.wanted;
    for (let i = caught; i < frameCount; i++) {
      this.memories[0].write(left[i]!);
      this.memories[1].write(right[i]!);
    }
  }

  /** Where to read, as long as something is caught. @returns for how many samples that is so */
  private findPlaces(frameCount: number): number {
    const { frames, isBackwards, fall } = this;
    const last = frames - SEAM_FRAMES;
    for (let i = 0; i < frameCount; i++) {
      const speed = this.speed.next();
      const target = this.wanted && this.isCaught ? 1 : 0;
      this.share += Math.max(-1 / SEAM_FRAMES, Math.min(1 / SEAM_FRAMES, target - this.share));
      if (this.share === 0) return i;
      const toSeam = frames - this.at;
      // At its end the stretch is crossfaded into what lies where the next round comes from.
      const seam = Math.min(1, toSeam / SEAM_FRAMES);
      places[i] = Math.max(2, frames - (isBackwards ? last - this.at : this.at) + 2);
      seamPlaces[i] = Math.max(2, frames - (isBackwards ? last + toSeam : -toSeam) + 2);
      levels[i] = this.level * seam;
      seamLevels[i] = this.level * fall * (1 - seam);
      shares[i] = this.share;
      this.on(speed);
    }
    return frameCount;
  }

  /** While something is caught the memory stays as it is. */
  private mix(memory: DelayMemory, samples: Float32Array, count: number): void {
    for (let i = 0; i < count; i++) {
      let value = memory.readBetween(places[i]!) * levels[i]!;
      if (seamLevels[i]! > 0) value += memory.readBetween(seamPlaces[i]!) * seamLevels[i]!;
      samples[i]! += (value - samples[i]!) * shares[i]!;
    }
  }

  private begin(moment: Moment): void {
    const most = MOST_SECONDS * this.sampleRate - 4 * SEAM_FRAMES;
    this.frames = Math.max(4 * SEAM_FRAMES, Math.min(most, Math.round(noteFrames(moment, this.quarters))));
    this.isCaught = true;
    this.at = 0;
    this.level = 1;
  }

  private on(speed: number): void {
    this.at += speed;
    if (this.at < this.frames) return;
    this.at -= this.frames;
    this.level *= this.fall;
  }
}
