/** How loud a voice is from frame to frame: its envelope, the fades at the ends of its slice, and the fade that stops it. */
import { msToFrames } from '../../units/time.ts';
import { ZONE } from '../zone-state.ts';
import { Envelope } from './envelope.ts';
import type { VoiceStart } from './start.ts';
import { StopFade } from './stop-fade.ts';
import { zoneEnvelope } from './zone-envelope.ts';

/** Ages and lengths are those of the voice, in output frames. */
export class VoiceLevels {
  readonly envelope = new Envelope();
  private readonly stopFade = new StopFade();
  private fadeInFrames = 0;
  private fadeOutFrames = 0;
  private releaseFrames = 1;
  /** What ends it, ends it as letting go its key would. */
  private endsByRelease = false;
  private stopFadeFrames = 1;

  /**
   * @param values of its zone, in the order of ZONE_ROWS
   * @param endsByRelease what ends it, ends it as letting go its key would
   */
  start(start: VoiceStart, values: Float64Array, endsByRelease: boolean): void {
    this.envelope.start(zoneEnvelope(values, start.velocity, start.sampleRate));
    this.releaseFrames = Math.max(1, msToFrames(values[ZONE.releaseMs]!, start.sampleRate));
    this.endsByRelease = endsByRelease;
    this.stopFadeFrames = endsByRelease ? Math.max(start.stopFadeFrames, this.releaseFrames) : start.stopFadeFrames;
    this.stopFade.reset();
  }

  /** The fades at the ends of what it plays. */
  setEnds(fadeInFrames: number, fadeOutFrames: number): void {
    this.fadeInFrames = fadeInFrames;
    this.fadeOutFrames = fadeOutFrames;
  }

  /** Begins in the middle of its slice. */
  fadeIn(frames: number): void {
    this.fadeInFrames = frames;
  }

  /** The fade at its end takes no longer than what is left. */
  shortenEnd(leftFrames: number): void {
    this.fadeOutFrames = Math.min(this.fadeOutFrames, Math.max(1, leftFrames));
  }

  /** It was to run into what comes next, and fades at its end after all. */
  endAlone(leftFrames: number): void {
    if (this.fadeOutFrames === 0) this.fadeOutFrames = Math.min(this.stopFadeFrames, Math.max(1, leftFrames));
  }

  /** Already fading out after a stop. */
  get isStopping(): boolean {
    return this.stopFade.isRunning;
  }

  /** The fade that stops it is through. */
  get isOver(): boolean {
    return this.stopFade.isOver;
  }

  /** How loud the fade that stops it leaves it, 0..1. */
  get stopLevel(): number {
    return this.stopFade.level;
  }

  /** Fades out within `fadeFrames` from now on; a faster fade that runs already goes on. */
  stop(fadeFrames: number, bend = 0): void {
    this.stopFade.start(fadeFrames, bend);
  }

  /** Ends as when its key is let go. @param bend of the way down, -1..1 */
  release(bend: number): void {
    this.envelope.stay();
    this.stop(this.releaseFrames, bend);
  }

  /** The event that it is of is over. @returns whether it ends as when its key is let go */
  end(bend: number): boolean {
    if (this.endsByRelease) this.envelope.stay();
    this.stop(this.stopFadeFrames, this.endsByRelease ? bend : 0);
    return this.endsByRelease;
  }

  /** Frames from now on through which the level stands still; 0 while a fade or the envelope moves it. */
  steadyFrames(ageFrames: number, lengthFrames: number): number {
    if (this.isStopping || ageFrames < this.fadeInFrames || !this.envelope.isSteady) return 0;
    return lengthFrames - this.fadeOutFrames - ageFrames;
  }

  /** Works out the levels of the next `count` frames. @returns how many of them are left to sound */
  fill(levels: Float64Array, count: number, ageFrames: number, lengthFrames: number): number {
    const { envelope, fadeInFrames, fadeOutFrames } = this;
    if (envelope.isSteady) levels.fill(envelope.steadyLevel, 0, count);
    else for (let i = 0; i < count; i++) levels[i] = envelope.levelAt(i);
    for (let i = 0; i < Math.min(count, fadeInFrames - ageFrames); i++)
      levels[i]! *= (ageFrames + i + 1) / (fadeInFrames + 1);
    for (let i = Math.max(0, lengthFrames - fadeOutFrames - ageFrames); i < count; i++)
      levels[i]! *= (lengthFrames - ageFrames - i - 1) / fadeOutFrames;
    return this.stopFade.apply(levels, count);
  }
}
