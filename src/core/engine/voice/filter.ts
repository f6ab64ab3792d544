/**
 * The filter of a voice: a soft limit that the sound can be driven into, then one stage or two. Another shape, another
 * slope, or none, comes in over the old one: a sounding tone makes no step.
 */
import { Oversampler } from '../../dsp/oversample.ts';
import { dbToGain } from '../../units/level.ts';
import { SHAPE_OFF, steepDampings, StereoFilter } from './svf.ts';

/** Frames in which one way to filter gives way to another. */
const FADE_FRAMES = 256;
/** Within this much drive the soft limit comes in: at none of it the sound is as it was. In dB. */
const DRIVE_COMES_IN_DB = 1;
/** In which another drive is reached, at four times the rate: a control step. */
const DRIVE_STEPS = 4 * 32;

export interface FilterSettings {
  shape: number;
  isSteep: boolean;
  cutoffHz: number;
  resonance: number;
  /** 0 leaves the sound as it is. */
  driveDb: number;
}

/** One way to filter. */
class FilterPath {
  shape = SHAPE_OFF;
  isSteep = false;
  /** Once driven it stays at the higher rate, which delays it. */
  isDriven = false;
  private readonly first = new StereoFilter();
  private readonly second = new StereoFilter();
  private readonly over = new Oversampler();
  /** Drive as a factor, what keeps a full-scale peak at full scale, and how much of it has come in. */
  private readonly now = { drive: 1, makeUp: 1, share: 0, left: 0 };
  private readonly step = { drive: 0, makeUp: 0, share: 0 };
  private isNew = true;
  /** `tanh(drive x) / tanh(drive)`, as much of it as has come in. */
  private readonly limit = (pairs: Float64Array, count: number): void => {
    const { now, step } = this;
    let { drive, makeUp, share, left } = now;
    for (let i = 0; i < 2 * count; i += 2) {
      if (left > 0) {
        left--;
        drive += step.drive;
        makeUp += step.makeUp;
        share += step.share;
      }
      for (let side = i; side < i + 2; side++) {
        const value = pairs[side]!;
        pairs[side] = value + (Math.tanh(value * drive) * makeUp - value) * share;
      }
    }
    now.drive = drive;
    now.makeUp = makeUp;
    now.share = share;
    now.left = left;
  };

  get isPlain(): boolean {
    return this.shape === SHAPE_OFF && !this.isDriven;
  }

  reset(): void {
    this.shape = SHAPE_OFF;
    this.isSteep = this.isDriven = false;
    this.isNew = true;
    this.first.reset();
    this.second.reset();
    this.over.reset();
  }

  follow(other: FilterPath): void {
    this.shape = other.shape;
    this.isSteep = other.isSteep;
    this.isDriven = other.isDriven;
    Object.assign(this.now, other.now);
    Object.assign(this.step, other.step);
    this.isNew = other.isNew;
    this.first.follow(other.first);
    this.second.follow(other.second);
    if (other.isDriven) this.over.follow(other.over);
  }

  set({ shape, isSteep, cutoffHz, resonance, driveDb }: FilterSettings, sampleRate: number): void {
    this.shape = shape;
    this.isSteep = isSteep;
    this.isDriven ||= driveDb > 0;
    this.aimDrive(driveDb);
    if (shape === SHAPE_OFF) return;
    if (!isSteep) {
      this.first.set(shape, cutoffHz, resonance, sampleRate);
      return;
    }
    const [ringing, calm] = steepDampings(shape, resonance);
    this.first.setDamped(shape, cutoffHz, calm, sampleRate);
    this.second.setDamped(shape, cutoffHz, ringing, sampleRate);
  }

  /** The first drive is there at once; another one is reached by the next control step. */
  private aimDrive(driveDb: number): void {
    const { now, step } = this;
    const drive = dbToGain(Math.max(0, driveDb));
    const makeUp = 1 / Math.tanh(drive);
    const share = Math.max(0, Math.min(1, driveDb / DRIVE_COMES_IN_DB));
    if (this.isNew) Object.assign(now, { drive, makeUp, share, left: 0 });
    this.isNew = false;
    now.left = drive === now.drive && share === now.share ? 0 : DRIVE_STEPS;
    step.drive = (drive - now.drive) / DRIVE_STEPS;
    step.makeUp = (makeUp - now.makeUp) / DRIVE_STEPS;
    step.share = (share - now.share) / DRIVE_STEPS;
  }

  process(left: Float32Array, right: Float32Array, count: number): void {
    if (this.isDriven) this.over.process(left, right, 0, count, this.limit);
    if (this.shape === SHAPE_OFF) return;
    this.first.process(left, right, 0, count);
    if (this.isSteep) this.second.process(left, right, 0, count);
  }
}

export class VoiceFilter {
  private path = new FilterPath();
  private leaving = new FilterPath();
  private fadeLeft = 0;
  private isSet = false;

  /** As new: the first settings are there at once. */
  reset(): void {
    this.path.reset();
    this.fadeLeft = 0;
    this.isSet = false;
  }

  /** Goes on from the state of another one. */
  follow(other: VoiceFilter): void {
    this.path.follow(other.path);
    this.isSet = other.isSet;
    this.fadeLeft = 0;
  }

  /** Something of it was heard: what is set from now on comes in over that. */
  settle(): void {
    this.isSet = true;
  }

  /** Does it change the sound now, or on its way to not doing so? */
  get isActive(): boolean {
    return !this.path.isPlain || this.fadeLeft > 0;
  }

  set(settings: FilterSettings, sampleRate: number): void {
    const { path } = this;
    const isOther =
      path.shape !== settings.shape || path.isSteep !== settings.isSteep || (settings.driveDb > 0 && !path.isDriven);
    if (this.isSet && isOther) {
      this.path = this.leaving;
      this.leaving = path;
      this.path.reset();
      // The integrators are the same for all shapes: what they hold goes on.
      if (path.shape !== SHAPE_OFF && settings.shape !== SHAPE_OFF) this.path.follow(path);
      this.path.isDriven = path.isDriven;
      this.fadeLeft = FADE_FRAMES;
    }
    this.path.set(settings, sampleRate);
  }

  /** Filters `count` samples of both channels in place, 1024 at the most. */
  process(left: Float32Array, right: Float32Array, count: number): void {
    if (this.fadeLeft === 0) {
      this.path.process(left, right, count);
      return;
    }
    oldLeft.set(left.subarray(0, count));
    oldRight.set(right.subarray(0, count));
    this.leaving.process(oldLeft, oldRight, count);
    this.path.process(left, right, count);
    for (let i = 0; i < count; i++) {
      const share = this.fadeLeft / FADE_FRAMES;
      left[i]! += (oldLeft[i]! - left[i]!) * share;
      right[i]! += (oldRight[i]! - right[i]!) * share;
      if (this.fadeLeft > 0) this.fadeLeft--;
    }
  }
}

/** Most frames at once. */
const MOST_FRAMES = 1024;
/** Shared: voices are worked out one after another. */
const oldLeft = new Float32Array(MOST_FRAMES);
const oldRight = new Float32Array(MOST_FRAMES);
