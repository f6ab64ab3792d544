/**
 * Reads the samples of a slice at any speed, forwards or backwards: as they are where that is exact, by windowed sinc; on
 * and on in a loop inside it, until that is left.
 */
import { sincLeft, sincReadRun, sincRight, sincTable } from '../../dsp/sinc.ts';
import type { PlanLoop, PlanSource } from '../plan/fragments.ts';
import { alignment, type Samples } from './alignment.ts';

/** Whether two renderings are the same is seen here: what is stretched differs by then. */
const LIKE_FROM_SHARE = 0.75;
const LIKE_FRAMES = 32;

const EMPTY = new Float32Array(0);

/** What is read, in frames of the source. */
export interface ReadRange {
  startFrame: number;
  /** Where reading ends, not included. */
  endFrame: number;
  /** Where the slice itself ends; from there to `endFrame` its remainder. */
  bodyEnd: number;
}

export interface ReadManner {
  reverse: boolean;
  joinsPrevious: boolean;
  joinsNext: boolean;
}

/** Reads the sound itself, or round in its loop. */
type Place = 'before' | 'round' | 'after';

export class SampleReader implements Samples {
  left: Float32Array = EMPTY;
  right: Float32Array = EMPTY;
  sourceId: string | null = null;
  /** In the samples that are read now: those of the sound, or of its loop from `loopBase` on. */
  position = 0;
  /** Source frames an output frame; negative backwards. */
  step = 1;
  /** Every position is a whole one: nothing has to be read between samples. */
  exact = false;
  private table = sincTable(1);
  private firstPosition = 0;
  private endFrame = 0;
  private bodyEnd = 0;
  /** What reading between samples may see: no more than the slice where the neighbour does not go on. */
  private seenFrom = 0;
  private seenTo = 0;
  private place: Place = 'after';
  private loop: PlanLoop | null = null;
  private loopSource: PlanSource | null = null;
  private source: PlanSource | null = null;
  private isLeaving = false;

  start(
    source: PlanSource,
    increment: number,
    { startFrame, endFrame, bodyEnd }: ReadRange,
    { reverse, joinsPrevious, joinsNext }: ReadManner,
  ): void {
    this.source = source;
    this.sourceId = source.id;
    this.left = source.channels[0]!;
    this.right = source.channels[1] ?? this.left;
    this.endFrame = reverse ? startFrame - 1 : endFrame;
    this.bodyEnd = bodyEnd;
    this.seenFrom = joinsPrevious ? 0 : startFrame;
    this.seenTo = joinsNext ? this.left.length : endFrame;
    this.table = sincTable(increment);
    this.step = reverse ? -increment : increment;
    this.position = this.firstPosition = reverse ? endFrame - 1 : startFrame;
    this.exact = increment === 1 && Number.isInteger(this.position);
    this.place = 'after';
    this.loop = this.loopSource = null;
    this.isLeaving = false;
  }

  /** Goes round in a loop once it is reached; one that lies behind is passed over. Forwards only. */
  goRound(loop: PlanLoop, loopSource: PlanSource): void {
    if (this.step < 0 || this.position >= Math.max(loop.plainEndFrame, loop.startFrame + 1)) return;
    this.loop = loop;
    this.loopSource = loopSource;
    this.place = 'before';
    this.enterOrLeave();
  }

  /** Will it never end by itself, as things are? */
  get isEndless(): boolean {
    return this.place === 'before' || this.place === 'round';
  }

  /** Is that the loop that it goes round in, or would? */
  goesRoundIn(loop: PlanLoop | null): boolean {
    return this.place === 'after' || this.isLeaving || this.loop?.sourceId === loop?.sourceId;
  }

  /** Lets the loop be left at the next place where that is not heard. @returns false when there is no such place */
  leaveLoop(): boolean {
    if (!this.loop || this.place === 'after') return true;
    if (this.place === 'before') {
      this.place = 'after';
      return true;
    }
    if (this.loop.plainEndFrame <= this.loop.startFrame) return false;
    this.isLeaving = true;
    this.enterOrLeave();
    return true;
  }

  /** Output frames that may be read before the loop has to be looked at; at least 1. */
  get framesToLook(): number {
    const { loop, place } = this;
    if (!loop || place === 'after') return Infinity;
    if (place === 'before') return Math.max(1, Math.ceil((loop.startFrame - this.position) / this.step));
    const wrap = Math.max(1, Math.ceil((loop.wrapFrame - loop.baseFrame - this.position) / this.step));
    return wrap;
  }

  /** Enters, goes round or leaves, where it is time for that. */
  enterOrLeave(): void {
    const { loop } = this;
    if (!loop || this.place === 'after') return;
    if (this.place === 'before') {
      if (this.position < loop.startFrame) return;
      this.place = 'round';
      this.left = this.loopSource!.channels[0]!;
      this.right = this.loopSource!.channels[1] ?? this.left;
      this.position -= loop.baseFrame;
      return;
    }
    const wrapAt = loop.wrapFrame - loop.baseFrame;
    if (this.position >= wrapAt) {
      this.position -= loop.periodFrames * (1 + Math.floor((this.position - wrapAt) / loop.periodFrames));
    }
    const frame = this.position + loop.baseFrame;
    if (!this.isLeaving || frame >= loop.plainEndFrame || frame < loop.startFrame) return;
    this.place = 'after';
    this.left = this.source!.channels[0]!;
    this.right = this.source!.channels[1] ?? this.left;
    this.position = frame;
  }

  /** The frame of the sound that is read now, also in a loop that goes there and back. */
  get sourceFrame(): number {
    const { loop } = this;
    if (this.place !== 'round' || !loop) return Math.floor(this.position);
    const into = Math.floor(this.position) + loop.baseFrame - loop.startFrame;
    return loop.startFrame + (((into % loop.periodFrames) + loop.periodFrames) % loop.periodFrames);
  }

  /** Reads on at another increment, from where it is. @returns false when it is the same */
  retune(increment: number): boolean {
    const step = this.step < 0 ? -increment : increment;
    if (step === this.step) return false;
    // Whole positions are read without a table: from between two samples only the table can read on.
    this.exact = increment === 1 && Number.isInteger(this.position);
    this.step = step;
    this.table = sincTable(increment);
    return true;
  }

  /** Output frames to the end; what goes round has none. */
  get framesLeft(): number {
    if (this.isEndless) return ENDLESS_FRAMES;
    return Math.max(0, Math.floor((this.endFrame - this.position) / this.step));
  }

  /** Goes on as if so many output frames had been read. */
  skip(frames: number): void {
    this.position += frames * this.step;
    if (this.exact) this.position |= 0;
    this.enterOrLeave();
  }

  /** Share of the slice itself that has been read, 1 and more when it is over. */
  get playedShare(): number {
    return (this.sourceFrame - this.firstPosition) / Math.max(1, this.bodyEnd - this.firstPosition);
  }

  /**
   * Output frames of another reader of the same slice that would have brought it to where this one is.
   * @param byShare the other is stretched: the same share of the slice, not the same distance from its start, unless
   * both sound alike for most of their length (a hit that dies away is not stretched)
   * @param most frames that the other has
   */
  framesTo(other: SampleReader, byShare: boolean, most: number): number {
    const here = this.place === 'round' ? this.sourceFrame : this.position;
    if (!byShare || this.place === 'round' || this.soundsLike(other)) {
      return Math.min(most - 1, Math.floor((here - this.firstPosition) / other.step));
    }
    const share = (here - this.firstPosition) / Math.max(1, this.bodyEnd - this.firstPosition);
    const gone = Math.floor((share * (other.bodyEnd - other.firstPosition)) / other.step);
    if (this.step !== other.step) return gone;
    const place = Math.floor(other.firstPosition + gone * other.step);
    const offset = alignment(this, Math.floor(this.position), other, place, other.firstPosition, other.bodyEnd);
    return gone + Math.round(offset / other.step);
  }

  /** Has another reader the same samples where anything stretched would have others? */
  private soundsLike(other: SampleReader): boolean {
    if (this.step !== other.step) return false;
    const body = Math.min(this.bodyEnd - this.firstPosition, other.bodyEnd - other.firstPosition);
    const from = Math.floor(LIKE_FROM_SHARE * body);
    for (let i = from; i < Math.min(body, from + LIKE_FRAMES); i++) {
      if (this.left[this.firstPosition + i] !== other.left[other.firstPosition + i]) return false;
    }
    return true;
  }

  /** Adds the last sample that was read once more. */
  addLast(outLeft: Float32Array, outRight: Float32Array, at: number, gainLeft: number, gainRight: number): void {
    const last = Math.max(0, Math.min(this.left.length - 1, (this.position | 0) - 1));
    outLeft[at]! += this.left[last]! * gainLeft;
    outRight[at]! += this.right[last]! * gainRight;
  }

  /** Adds frames as they are, at one level: by far the commonest case, and several times as fast. Only when exact. */
  copy(
    outLeft: Float32Array,
    outRight: Float32Array,
    from: number,
    count: number,
    gainLeft: number,
    gainRight: number,
  ): void {
    const { left, right, step } = this;
    let position = this.position | 0;
    const end = (from + count) | 0;
    for (let i = from | 0; i < end; i++) {
      outLeft[i]! += left[position]! * gainLeft;
      outRight[i]! += right[position]! * gainRight;
      position = (position + step) | 0;
    }
    this.position = position;
  }

  /** Adds frames, each at a level of its own. */
  add(
    outLeft: Float32Array,
    outRight: Float32Array,
    from: number,
    count: number,
    levels: Float64Array,
    gainLeft: number,
    gainRight: number,
  ): void {
    const { left, right, step } = this;
    if (this.exact) {
      let at = this.position | 0;
      for (let i = 0; i < count; i++) {
        const level = levels[i]!;
        outLeft[from + i]! += left[at]! * level * gainLeft;
        outRight[from + i]! += right[at]! * level * gainRight;
        at = (at + step) | 0;
      }
      this.position = at;
      return;
    }
    const readRight = this.readBetween(count);
    for (let i = 0; i < count; i++) {
      const level = levels[i]!;
      outLeft[from + i]! += sincLeft[i]! * level * gainLeft;
      outRight[from + i]! += readRight[i]! * level * gainRight;
    }
  }

  /** Reads frames into two arrays. */
  read(count: number, intoLeft: Float32Array, intoRight: Float32Array): void {
    const { left, right, step } = this;
    if (this.exact) {
      let at = this.position | 0;
      for (let i = 0; i < count; i++) {
        intoLeft[i] = left[at]!;
        intoRight[i] = right[at]!;
        at = (at + step) | 0;
      }
      this.position = at;
      return;
    }
    const readRight = this.readBetween(count);
    for (let i = 0; i < count; i++) {
      intoLeft[i] = sincLeft[i]!;
      intoRight[i] = readRight[i]!;
    }
  }

  /** Reads between samples, into `sincLeft` and what it gives. */
  private readBetween(count: number): Float64Array | Float32Array {
    const { left, right, table, step } = this;
    const isRound = this.place === 'round';
    const from = isRound ? 0 : this.seenFrom;
    const to = isRound ? left.length : this.seenTo;
    this.position = sincReadRun(table, left, right, this.position, step, count, from, to);
    return right === left ? sincLeft : sincRight;
  }
}

/** Longer than anything plays. */
export const ENDLESS_FRAMES = 2 ** 40;
