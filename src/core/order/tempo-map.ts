/**
 * Tempo over a song: in each stretch it stays, or goes evenly with the ticks from one to another. With `b(t) = b0 + k t`
 * beats a minute, `t` ticks into a stretch, and `c = 60 * sampleRate / 960`, the frames of it are the integral of `c / b`:
 * `c t / b0` where it stays, `c / k * ln(1 + k t / b0)` where it moves. Frames are never added up from rounded ones.
 */
import type { TempoStretch } from './tempi.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

export class TempoMap {
  private readonly startTicks: Float64Array;
  private readonly startFrames: Float64Array;
  private readonly fromBpm: Float64Array;
  /** Beats a minute a tick. */
  private readonly slope: Float64Array;
  private readonly count: number;
  /** Frames of a tick at one beat a minute. */
  private readonly scale: number;

  /** @param stretches at least one, the first from 0 on, in their order */
  constructor(
    readonly stretches: readonly TempoStretch[],
    sampleRate: number,
  ) {
    this.count = stretches.length;
    this.scale = (60 * sampleRate) / TICKS_PER_BEAT;
    this.startTicks = Float64Array.from(stretches, (one) => one.startTicks);
    this.fromBpm = Float64Array.from(stretches, (one) => one.fromBpm);
    this.slope = Float64Array.from(stretches, ({ startTicks, fromBpm, toBpm }, place) => {
      const next = stretches[place + 1];
      return next ? (toBpm - fromBpm) / (next.startTicks - startTicks) : 0;
    });
    this.startFrames = new Float64Array(this.count);
    for (let place = 1; place < this.count; place++) {
      const ticks = this.startTicks[place]! - this.startTicks[place - 1]!;
      this.startFrames[place] = this.startFrames[place - 1]! + this.framesIn(place - 1, ticks);
    }
  }

  private framesIn(place: number, ticks: number): number {
    const from = this.fromBpm[place]!;
    const slope = this.slope[place]!;
    // Before the song begins it goes as it begins.
    if (slope === 0 || ticks < 0) return (this.scale * ticks) / from;
    return (this.scale / slope) * Math.log1p((slope * ticks) / from);
  }

  private placeOf(list: Float64Array, value: number): number {
    let low = 0;
    let high = this.count - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (list[middle]! <= value) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Frames (fractional) from the beginning of the song to a position in ticks. */
  framesAt(ticks: number): number {
    const place = this.placeOf(this.startTicks, ticks);
    return this.startFrames[place]! + this.framesIn(place, ticks - this.startTicks[place]!);
  }

  /** Ticks at so many frames: the inverse of {@link framesAt}. */
  ticksAt(frames: number): number {
    const place = this.placeOf(this.startFrames, frames);
    const gone = frames - this.startFrames[place]!;
    const from = this.fromBpm[place]!;
    const slope = this.slope[place]!;
    const ticks =
      slope === 0 || gone < 0 ? (gone * from) / this.scale : (from / slope) * Math.expm1((slope * gone) / this.scale);
    return this.startTicks[place]! + ticks;
  }

  /** Beats a minute at a position in ticks. */
  tempoAt(ticks: number): number {
    const place = this.placeOf(this.startTicks, ticks);
    return this.fromBpm[place]! + this.slope[place]! * Math.max(0, ticks - this.startTicks[place]!);
  }

  /** Where the stretch after a position begins, in ticks; Infinity in the last one. */
  nextStretchTicks(ticks: number): number {
    const place = this.placeOf(this.startTicks, ticks);
    return place + 1 < this.count ? this.startTicks[place + 1]! : Infinity;
  }
}
