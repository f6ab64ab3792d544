/** Reads the samples of a slice at any speed, forwards or backwards: as they are where that is exact, by windowed sinc. */
import { sincLeft, sincReadRun, sincRight, sincTable } from '../../dsp/sinc.ts';
import type { PlanSource } from '../plan/fragments.ts';
import { alignment, type Samples } from './alignment.ts';
import type { VoiceStart } from './start.ts';

/** Whether two renderings are the same is seen here: what is stretched differs by then. */
const LIKE_FROM_SHARE = 0.75;
const LIKE_FRAMES = 32;

const EMPTY = new Float32Array(0);

/** What is read, in frames of the source. */
interface ReadRange {
  startFrame: number;
  /** Where reading ends, not included. */
  endFrame: number;
  /** Where the slice itself ends; from there to `endFrame` its remainder. */
  bodyEnd: number;
}

export class SampleReader implements Samples {
  left: Float32Array = EMPTY;
  right: Float32Array = EMPTY;
  sourceId: string | null = null;
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

  start(
    source: PlanSource,
    increment: number,
    { startFrame, endFrame, bodyEnd }: ReadRange,
    { reverse, joinsPrevious, joinsNext }: VoiceStart,
  ): void {
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
    this.exact = increment === 1;
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

  /** Output frames to the end. */
  get framesLeft(): number {
    return Math.max(0, Math.floor((this.endFrame - this.position) / this.step));
  }

  /** Goes on as if so many output frames had been read. */
  skip(frames: number): void {
    this.position += frames * this.step;
    if (this.exact) this.position |= 0;
  }

  /** Share of the slice itself that has been read, 1 and more when it is over. */
  get playedShare(): number {
    return (this.position - this.firstPosition) / Math.max(1, this.bodyEnd - this.firstPosition);
  }

  /**
   * Output frames of another reader of the same slice that would have brought it to where this one is.
   * @param byShare the other is stretched: the same share of the slice, not the same distance from its start, unless
   * both sound alike for most of their length (a hit that dies away is not stretched)
   * @param most frames that the other has
   */
  framesTo(other: SampleReader, byShare: boolean, most: number): number {
    if (!byShare || this.soundsLike(other)) {
      return Math.min(most - 1, Math.floor((this.position - this.firstPosition) / other.step));
    }
    const gone = Math.floor((this.playedShare * (other.bodyEnd - other.firstPosition)) / other.step);
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
    const { left, right, table, step, seenFrom, seenTo } = this;
    this.position = sincReadRun(table, left, right, this.position, step, count, seenFrom, seenTo);
    return right === left ? sincLeft : sincRight;
  }
}
