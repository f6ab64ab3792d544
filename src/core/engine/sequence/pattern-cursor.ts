/**
 * Walks through the starts of a part's pattern, round after round from an anchor, and changes patterns when their turn
 * has come. A position is worked out when its turn comes, so that feel, groove, swing and offset may change at any time.
 */
import type { EventColumns, PatternFragment } from '../plan/fragments.ts';
import type { SongClock } from './song-clock.ts';
import { isPlainTiming, plainTiming, timedTicks, type TimingSettings } from '../../strips/timing.ts';

/** Positions nearer than this are the same, in ticks. */
const SAME_TICKS = 1e-6;

export class PatternCursor {
  /** The pattern that plays now. */
  pattern: PatternFragment | null = null;
  /** Place of the next start in the pattern's columns, and its round. */
  next = 0;
  round = 0;
  /** Song position of round 0, before the offset, in ticks. */
  anchorTicks = 0;
  offsetTicks = 0;
  private timing: TimingSettings = plainTiming();
  private isPlain = true;
  private waiting: PatternFragment | null = null;
  private waitingTicks = 0;

  setTiming(timing: TimingSettings, offsetTicks: number): void {
    this.timing = timing;
    this.isPlain = isPlainTiming(timing);
    this.offsetTicks = offsetTicks;
  }

  /**
   * Lets a pattern play: at once, or from a position on. What plays already takes its new content at once.
   * @returns true when it takes over at once from another one
   */
  choose(wanted: PatternFragment | null, atTicks: number | null): boolean {
    const playing = this.pattern;
    if (atTicks === null || !playing || wanted === null || isSameTake(playing, wanted)) {
      this.pattern = wanted;
      this.waiting = null;
      return playing !== null && wanted !== null && !isSameTake(playing, wanted);
    }
    if (!this.waiting || !isSameTake(this.waiting, wanted)) this.waitingTicks = atTicks;
    this.waiting = wanted;
    return false;
  }

  /** Id of the pattern that waits for its turn, or null. */
  get waitingId(): string | null {
    return this.waiting?.id ?? null;
  }

  get isPlainTiming(): boolean {
    return this.isPlain;
  }

  private get events(): EventColumns | null {
    return this.pattern?.events ?? null;
  }

  /** Where a start lies in its round. */
  private timed(index: number): number {
    const { events, lengthTicks } = this.pattern!;
    const ticks = events.positionTicks[index]!;
    return this.isPlain ? ticks : timedTicks(ticks, this.timing, lengthTicks);
  }

  private roundTicks(round: number): number {
    return this.anchorTicks + this.offsetTicks + round * this.pattern!.lengthTicks;
  }

  /** Ticks from the beginning of its first round to a song position. */
  ticksSinceBegun(songTicks: number): number {
    return songTicks - this.anchorTicks - this.offsetTicks;
  }

  /** Song position of a start in ticks; `index` may run on into the next rounds. */
  ticksOf(round: number, index: number): number {
    return this.roundTicks(round) + this.timed(index);
  }

  /**
   * Puts the cursor on the first start at or after a song position in ticks; before the anchor nothing starts, but for
   * what comes a little early.
   * @param isBeginning the song begins here: what would have come a little early is taken along
   */
  seek(songTicks: number, isBeginning = false): void {
    if (songTicks < this.anchorTicks) {
      this.seek(this.anchorTicks, true);
      return;
    }
    this.round = this.next = 0;
    const count = this.events?.positionTicks.length ?? 0;
    if (count === 0) return;
    const { lengthTicks } = this.pattern!;
    const first = Math.floor((songTicks - this.anchorTicks - this.offsetTicks) / lengthTicks) - 1;
    for (let round = first; ; round++) {
      const index = this.firstAtOrAfter(songTicks - this.roundTicks(round));
      if (index >= count) continue;
      this.round = round;
      this.next = index;
      break;
    }
    while (isBeginning && this.stepBackOnto(songTicks));
  }

  /** Goes back by one start when that was written at or after a position, and only its timing puts it before. */
  private stepBackOnto(songTicks: number): boolean {
    const count = this.events!.positionTicks.length;
    const index = this.next === 0 ? count - 1 : this.next - 1;
    const round = this.next === 0 ? this.round - 1 : this.round;
    if (this.roundTicks(round) + this.events!.positionTicks[index]! < songTicks - SAME_TICKS) return false;
    this.next = index;
    this.round = round;
    return true;
  }

  /** The first start of a round at or after a position in it (binary search: timing keeps the order). */
  private firstAtOrAfter(ticks: number): number {
    let low = 0;
    let high = this.events!.positionTicks.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.timed(middle) < ticks) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** Song position in ticks of the next start, Infinity when there is none. */
  nextTicks(): number {
    if (!this.pattern || this.pattern.events.positionTicks.length === 0) return Infinity;
    return this.ticksOf(this.round, this.next);
  }

  /** Frame at which something is to happen next. */
  nextFrame(clock: SongClock): number {
    const ticks = Math.min(this.nextTicks(), this.waiting ? this.waitingTicks : Infinity);
    return ticks === Infinity ? Infinity : clock.frameAt(ticks);
  }

  /** Is this the frame on which a round of the pattern ends? */
  endsRound(frame: number, clock: SongClock): boolean {
    if (!this.pattern) return false;
    const { lengthTicks } = this.pattern;
    const round = Math.round((clock.ticksAt(frame) - this.anchorTicks) / lengthTicks);
    return round > 0 && clock.frameAt(this.anchorTicks + round * lengthTicks) === frame;
  }

  /** Position at which the round ends that a position lies in. */
  roundEndTicks(ticks: number): number {
    if (!this.pattern) return ticks;
    const { lengthTicks } = this.pattern;
    return this.anchorTicks + Math.ceil((ticks - this.anchorTicks) / lengthTicks - SAME_TICKS) * lengthTicks;
  }

  /** Frame of the next end of a round. */
  roundEndFrame(clock: SongClock, after: number): number {
    if (!this.pattern) return Infinity;
    const { lengthTicks } = this.pattern;
    let round = Math.max(1, Math.floor((clock.ticksAt(after) - this.anchorTicks) / lengthTicks));
    while (clock.frameAt(this.anchorTicks + round * lengthTicks) <= after) round++;
    return clock.frameAt(this.anchorTicks + round * lengthTicks);
  }

  /** Changes the pattern when its turn has come. */
  changeAt(frame: number, clock: SongClock): boolean {
    if (!this.waiting || clock.frameAt(this.waitingTicks) > frame) return false;
    this.pattern = this.waiting;
    this.waiting = null;
    this.seek(this.waitingTicks - SAME_TICKS);
    return true;
  }

  /** Place of the start before the next one; -1 where there is none. */
  get placeBefore(): number {
    return this.next === 0 ? (this.events?.positionTicks.length ?? 0) - 1 : this.next - 1;
  }

  /** The round that {@link placeBefore} is of. */
  get roundBefore(): number {
    return this.next === 0 ? this.round - 1 : this.round;
  }

  /** Has a start begun before a position, and not ended there? */
  isRunning(round: number, place: number, songTicks: number): boolean {
    const ticks = this.ticksOf(round, place);
    const endTicks = ticks + this.events!.lengthTicks[place]!;
    return ticks >= this.anchorTicks && ticks < songTicks - SAME_TICKS && endTicks > songTicks + SAME_TICKS;
  }

  /** Goes on to the next start when the one at the cursor is due at a frame; its index, or -1 when none is due. */
  take(frame: number, clock: SongClock): number {
    const ticks = this.nextTicks();
    if (ticks === Infinity || clock.frameAt(ticks) > frame) return -1;
    const index = this.next;
    this.next++;
    if (this.next >= this.pattern!.events.positionTicks.length) {
      this.next = 0;
      this.round++;
    }
    return index;
  }
}

/** One pattern with one hand of it on the table. */
function isSameTake(one: PatternFragment, other: PatternFragment): boolean {
  return one.id === other.id && one.handId === other.handId;
}
