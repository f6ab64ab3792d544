/** Walks through the events of a part's pattern, round after round, and changes patterns at bar lines. */
import type { PlanEvent, PlanPart, PlanPattern } from './render-plan.ts';
import type { SongClock } from './song-clock.ts';

export class PatternPlayer {
  /** The pattern that plays now. */
  pattern: PlanPattern | null = null;
  private waiting: PlanPattern | null = null;
  private waitingTicks = 0;
  private round = 0;
  private next = 0;

  /** Takes the patterns of a new plan; while the song runs another choice waits for the bar line `barTicks`. */
  setPart(part: PlanPart, atBarTicks: number | null): void {
    const wanted = part.patterns.find((pattern) => pattern.id === part.activePatternId) ?? null;
    const current = part.patterns.find((pattern) => pattern.id === this.pattern?.id) ?? null;
    if (atBarTicks === null || !current || current === wanted) {
      this.pattern = wanted;
      this.waiting = null;
      return;
    }
    if (this.waiting?.id !== wanted?.id) this.waitingTicks = atBarTicks;
    this.pattern = current;
    this.waiting = wanted;
  }

  /** Id of the pattern that waits for its bar line, or null. */
  get waitingId(): string | null {
    return this.waiting?.id ?? null;
  }

  /** Puts the cursor on the first event at or after a song position in ticks. */
  seek(songTicks: number): void {
    this.round = 0;
    this.next = 0;
    const pattern = this.pattern;
    if (!pattern || pattern.events.length === 0) return;
    this.round = Math.max(0, Math.floor(songTicks / pattern.lengthTicks));
    const within = songTicks - this.round * pattern.lengthTicks;
    this.next = pattern.events.findIndex((event) => event.positionTicks >= within);
    if (this.next < 0) {
      this.next = 0;
      this.round++;
    }
  }

  /** Song position in ticks of the next event, Infinity when there is none. */
  private nextTicks(): number {
    const pattern = this.pattern;
    if (!pattern || pattern.events.length === 0) return Infinity;
    return this.round * pattern.lengthTicks + pattern.events[this.next]!.positionTicks;
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
    const round = Math.round(clock.ticksAt(frame) / lengthTicks);
    return round > 0 && clock.frameAt(round * lengthTicks) === frame;
  }

  /** Frame of the next end of a round. */
  roundEndFrame(clock: SongClock, after: number): number {
    if (!this.pattern) return Infinity;
    const { lengthTicks } = this.pattern;
    let round = Math.max(1, Math.floor(clock.ticksAt(after) / lengthTicks));
    while (clock.frameAt(round * lengthTicks) <= after) round++;
    return clock.frameAt(round * lengthTicks);
  }

  /** Changes the pattern when its bar line has come. */
  changeAt(frame: number, clock: SongClock): boolean {
    if (!this.waiting || clock.frameAt(this.waitingTicks) > frame) return false;
    this.pattern = this.waiting;
    this.waiting = null;
    this.seek(this.waitingTicks - 1e-6);
    return true;
  }

  /** The event that is due at a frame, and moves on; null when none is due (any more). */
  take(frame: number, clock: SongClock): PlanEvent | null {
    const ticks = this.nextTicks();
    if (ticks === Infinity || clock.frameAt(ticks) > frame) return null;
    const pattern = this.pattern!;
    const event = pattern.events[this.next]!;
    this.next++;
    if (this.next >= pattern.events.length) {
      this.next = 0;
      this.round++;
    }
    return event;
  }
}
