/** The filter of a voice: a soft limit that the sound can be driven into, then one stage or two. */
import { dbToGain } from '../../units/level.ts';
import { SHAPE_OFF, steepDampings, StereoFilter } from './svf.ts';

export class VoiceFilter {
  private readonly first = new StereoFilter();
  private readonly second = new StereoFilter();
  private shape = SHAPE_OFF;
  private isSteep = false;
  private drive = 1;
  /** Keeps a full-scale peak at full scale. */
  private makeUp = 1;

  reset(): void {
    this.first.reset();
    this.second.reset();
  }

  /** Goes on from the state of another one. */
  follow(other: VoiceFilter): void {
    this.first.follow(other.first);
    this.second.follow(other.second);
  }

  /** @param driveDb 0 leaves the sound as it is */
  set(shape: number, isSteep: boolean, cutoffHz: number, resonance: number, driveDb: number, sampleRate: number): void {
    if (isSteep && !this.isSteep) this.second.reset();
    this.shape = shape;
    this.isSteep = isSteep;
    this.drive = driveDb <= 0 ? 1 : dbToGain(driveDb);
    this.makeUp = driveDb <= 0 ? 1 : 1 / Math.tanh(this.drive);
    if (shape === SHAPE_OFF) return;
    if (!isSteep) {
      this.first.set(shape, cutoffHz, resonance, sampleRate);
      return;
    }
    const [ringing, calm] = steepDampings(shape, resonance);
    this.first.setDamped(shape, cutoffHz, calm, sampleRate);
    this.second.setDamped(shape, cutoffHz, ringing, sampleRate);
  }

  /** Filters `count` samples of both channels in place. */
  process(left: Float32Array, right: Float32Array, count: number): void {
    const { drive, makeUp } = this;
    if (drive !== 1) {
      for (let i = 0; i < count; i++) {
        left[i] = Math.tanh(left[i]! * drive) * makeUp;
        right[i] = Math.tanh(right[i]! * drive) * makeUp;
      }
    }
    if (this.shape === SHAPE_OFF) return;
    this.first.process(left, right, 0, count);
    if (this.isSteep) this.second.process(left, right, 0, count);
  }
}
