/** What the running song brings: beats of the click, patterns that take over, events that are due. */
import type { Click } from './click.ts';
import { CONTROL_FRAMES, framesToLook } from './control/control-step.ts';
import type { EventStarter } from './event-starter.ts';
import type { KeyPlayer } from './key-player.ts';
import type { PartState } from './part-state.ts';
import type { PlanState } from './plan-state.ts';
import { ON_KEY } from './plan/fragments.ts';
import type { SongClock } from './sequence/song-clock.ts';
import { SONG, type SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';

export class Sequencer {
  /** Counted from the song's start; below 0 it is counted in. */
  private nextBeat = 0;

  constructor(
    private readonly song: SongState,
    private readonly plan: PlanState,
    private readonly voices: VoicePool,
    private readonly starter: EventStarter,
    private readonly keys: KeyPlayer,
    private readonly click: Click,
  ) {}

  /** Finds its place again: the song stands elsewhere, or what it plays has changed. */
  seek(isBeginning = false): void {
    for (const part of this.plan.ordered) {
      part.cursor.seek(part.clockOr(this.song.clock).ticksRoundingTo(this.song.frame), isBeginning);
      part.player.joinSerial = isBeginning ? 0 : part.player.joinSerial;
    }
    this.nextBeat = Math.ceil(this.song.clock.ticksRoundingTo(this.song.frame) / this.song.beatTicks);
  }

  /** Has the song come to its end? What sounds then rings out. */
  private endIfDue(): boolean {
    if (this.song.endTicks === Infinity || this.song.clock.frameAt(this.song.endTicks) > this.song.frame) return false;
    this.song.run(false);
    return true;
  }

  /** Starts what is due now; ends the song when its end has come. */
  run(): void {
    if (this.endIfDue()) return;
    while (this.song.clock.frameAt(this.nextBeat * this.song.beatTicks) <= this.song.frame) {
      // Before the song's first bar line it is counted in, whether the click is on or not.
      if (this.song.values[SONG.clickOn] || this.nextBeat < 0) {
        this.click.start(this.song.values[SONG.clickSound]!, this.nextBeat % this.song.beatsABar === 0);
      }
      this.nextBeat++;
    }
    const { frame, gridFrame } = this.song;
    const isStep = framesToLook(frame, gridFrame) === CONTROL_FRAMES;
    for (let index = 0; index < this.plan.ordered.length; index++) {
      const part = this.plan.ordered[index]!;
      const { cursor } = part;
      const clock = part.clockOr(this.song.clock);
      if (part.waiting.atTicks !== Infinity && clock.frameAt(part.waiting.atTicks) <= this.song.frame) {
        this.plan.applyWaiting(part);
      }
      if (part.changeTicks !== Infinity && this.song.clock.frameAt(part.changeTicks) <= this.song.frame) {
        this.plan.applyTransposition(part);
      }
      if (cursor.changeAt(this.song.frame, clock)) {
        part.bindPattern();
        part.isTakenOver = true;
        this.plan.lookAtLanes(part);
      } else if (isStep) this.plan.lookAtLanes(part);
      if (part.isTakenOver) this.starter.takeUp(part, clock, this.press);
      if (!part.ringsOver && cursor.endsRound(this.song.frame, clock)) this.voices.stopPattern(part);
      this.startDue(part, clock);
    }
  }

  private readonly press = (part: PartState, place: number, round: number, ticks: number, clock: SongClock): number =>
    this.keys.startEvent(part, place, round, ticks, clock);

  private startDue(part: PartState, clock: SongClock): void {
    const { cursor } = part;
    for (;;) {
      const ticks = cursor.nextTicks();
      const { round } = cursor;
      const place = cursor.take(this.song.frame, clock);
      if (place < 0) return;
      if (!part.player.mayStart(this.song.frame)) continue;
      if (cursor.pattern!.events.flags[place]! & ON_KEY) this.press(part, place, round, ticks, clock);
      else this.starter.startEvent(part, part.player, place, round, ticks, clock, null);
    }
  }

  /** Frames until something is due, 1 at least. */
  framesToNext(): number {
    let next = this.song.clock.frameAt(this.nextBeat * this.song.beatTicks);
    if (this.song.endTicks !== Infinity) next = Math.min(next, this.song.clock.frameAt(this.song.endTicks));
    for (let index = 0; index < this.plan.ordered.length; index++) {
      const part = this.plan.ordered[index]!;
      const clock = part.clockOr(this.song.clock);
      next = Math.min(next, part.cursor.nextFrame(clock));
      if (!part.ringsOver) next = Math.min(next, part.cursor.roundEndFrame(clock, this.song.frame));
      if (part.changeTicks !== Infinity) next = Math.min(next, this.song.clock.frameAt(part.changeTicks));
      if (part.waiting.atTicks !== Infinity) next = Math.min(next, clock.frameAt(part.waiting.atTicks));
    }
    return Math.max(1, next - this.song.frame);
  }
}
