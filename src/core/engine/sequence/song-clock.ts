/**
 * Where the song is. Positions are computed from the last place where the tempo changed, the anchor, never by adding up,
 * so nothing drifts: `frame = anchorFrame + (ticks - anchorTicks) * framesPerTick`.
 */
import { framesPerTick } from '../../units/time.ts';

/** A little over a half, so that the rounding of floating point does not decide between two equally near frames. */
const HALF_FRAME = 0.5 + 1e-6;

export class SongClock {
  private readonly sampleRate: number;
  private anchorFrame = 0;
  private anchorTicks = 0;
  private perTick: number;
  tempoBpm: number;
  /** Frame at which it was put to 0, or would have been: what swings freely with the song hangs on it. */
  zeroFrame = 0;
  /** Tells the time of a song that runs. */
  isRunning = false;

  constructor(sampleRate: number, tempoBpm: number) {
    this.sampleRate = sampleRate;
    this.tempoBpm = tempoBpm;
    this.perTick = framesPerTick(tempoBpm, sampleRate);
  }

  /** Puts the song at `ticks` at a frame of the output. */
  locate(frame: number, ticks: number): void {
    this.zeroFrame = Math.round(frame - ticks * this.perTick);
    this.anchor(frame, ticks);
  }

  private anchor(frame: number, ticks: number): void {
    this.anchorFrame = frame;
    this.anchorTicks = ticks;
  }

  /** Goes on at another tempo from a frame. */
  setTempo(tempoBpm: number, atFrame: number): void {
    const perTick = framesPerTick(tempoBpm, this.sampleRate);
    this.tempoBpm = tempoBpm;
    if (perTick === this.perTick) return;
    this.anchor(atFrame, this.ticksAt(atFrame));
    this.perTick = perTick;
  }

  /** Fractional ticks at a frame. */
  ticksAt(frame: number): number {
    return this.anchorTicks + (frame - this.anchorFrame) / this.perTick;
  }

  /** The whole frame at which a position sounds: the nearest, the later one of two equally near. */
  frameAt(ticks: number): number {
    return Math.floor(this.anchorFrame + (ticks - this.anchorTicks) * this.perTick + HALF_FRAME);
  }

  /** Ticks at the earliest moment that still rounds to this frame. */
  ticksRoundingTo(frame: number): number {
    return this.ticksAt(frame - HALF_FRAME);
  }
}
