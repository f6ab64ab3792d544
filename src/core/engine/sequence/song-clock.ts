/**
 * Where the song is. Positions are computed from the last place where the tempo changed, the anchor, never by adding up,
 * so nothing drifts: `frame = anchorFrame + (ticks - anchorTicks) * framesPerTick`. Along a running order its tempo map says
 * where they are: `frame = mapFrame + map.framesAt(ticks)`.
 */
import { framesPerTick } from '../../units/time.ts';
import type { TempoMap } from '../../order/tempo-map.ts';

/** A little over a half, so that the rounding of floating point does not decide between two equally near frames. */
const HALF_FRAME = 0.5 + 1e-6;

export class SongClock {
  readonly sampleRate: number;
  private anchorFrame = 0;
  private anchorTicks = 0;
  private perTick: number;
  tempoBpm: number;
  /** Frame at which it was put to 0, or would have been: what swings freely with the song hangs on it. */
  zeroFrame = 0;
  /** Tempo over the running order that is followed; null while none is. */
  private map: TempoMap | null = null;
  /** Frame of the map's beginning: no whole one where the song begins in the middle of it. */
  private mapFrame = 0;
  /** Tells the time of a song that runs. */
  isRunning = false;

  constructor(sampleRate: number, tempoBpm: number) {
    this.sampleRate = sampleRate;
    this.tempoBpm = tempoBpm;
    this.perTick = framesPerTick(tempoBpm, sampleRate);
  }

  /** Puts the song at `ticks` at a frame of the output. @param map of the running order that it follows */
  locate(frame: number, ticks: number, map: TempoMap | null = null): void {
    this.map = map;
    if (map) {
      this.mapFrame = frame - map.framesAt(ticks);
      this.zeroFrame = Math.round(this.mapFrame);
      this.tempoBpm = map.tempoAt(ticks);
      return;
    }
    this.perTick = framesPerTick(this.tempoBpm, this.sampleRate);
    this.zeroFrame = Math.round(frame - ticks * this.perTick);
    this.anchor(frame, ticks);
  }

  /** Along a tempo map: takes the tempo that is there at a frame. @returns true when it is another */
  followMap(atFrame: number): boolean {
    if (!this.map) return false;
    const tempoBpm = this.map.tempoAt(this.ticksRoundingTo(atFrame + 1));
    if (tempoBpm === this.tempoBpm) return false;
    this.tempoBpm = tempoBpm;
    return true;
  }

  private anchor(frame: number, ticks: number): void {
    this.anchorFrame = frame;
    this.anchorTicks = ticks;
  }

  /** Goes on at another tempo from a frame. */
  setTempo(tempoBpm: number, atFrame: number): void {
    if (this.map) return;
    const perTick = framesPerTick(tempoBpm, this.sampleRate);
    this.tempoBpm = tempoBpm;
    if (perTick === this.perTick) return;
    this.anchor(atFrame, this.ticksAt(atFrame));
    this.perTick = perTick;
  }

  /** Fractional ticks at a frame. */
  ticksAt(frame: number): number {
    if (this.map) return this.map.ticksAt(frame - this.mapFrame);
    return this.anchorTicks + (frame - this.anchorFrame) / this.perTick;
  }

  /** The whole frame at which a position sounds: the nearest, the later one of two equally near. */
  frameAt(ticks: number): number {
    if (this.map) return Math.floor(this.mapFrame + this.map.framesAt(ticks) + HALF_FRAME);
    return Math.floor(this.anchorFrame + (ticks - this.anchorTicks) * this.perTick + HALF_FRAME);
  }

  /** Ticks at the earliest moment that still rounds to this frame. */
  ticksRoundingTo(frame: number): number {
    return this.ticksAt(frame - HALF_FRAME);
  }
}
