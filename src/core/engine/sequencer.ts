/** What the running song brings: beats of the click, patterns that take over, events that are due. */
import type { Click } from './click.ts';
import { CONTROL_FRAMES, framesToLook } from './control/control-step.ts';
import type { EventStarter } from './event-starter.ts';
import type { KeyPlayer } from './key-player.ts';
import type { PartState } from './part-state.ts';
import type { PlanState } from './plan-state.ts';
import { ON_KEY } from './plan/fragments.ts';
import { Beats } from './sequence/beats.ts';
import type { SongClock } from './sequence/song-clock.ts';
import { SONG, type SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';

export class Sequencer {
  /** What is clicked; before the song's start it is counted in. */
  private readonly beats = new Beats();
  /** Where the tempo of a running order changes next. */
  private nextTempoFrame = Infinity;

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
    const { clock, frame, playedOrder, beatTicks, beatsABar } = this.song;
    this.beats.seek(clock.ticksRoundingTo(frame), playedOrder, beatTicks, beatsABar);
    this.nextTempoFrame = this.song.nextTempoFrame;
  }

  /** Has the song come to its end? What sounds then rings out; or it goes on from where it returns to. */
  private endIfDue(): boolean {
    const { song } = this;
    if (song.endTicks === Infinity || song.clock.frameAt(song.endTicks) > song.frame) return false;
    if (song.returnTicks !== null && song.returnTicks < song.endTicks) {
      this.comeBack(song.returnTicks);
      return false;
    }
    this.song.run(false);
    this.keys.endHelpers();
    return true;
  }

  /** The song goes on from an earlier position, in time. */
  private comeBack(ticks: number): void {
    const { song, plan, voices } = this;
    for (const part of plan.ordered) if (!part.ringsOver) voices.stopPattern(part);
    song.locate(ticks, song.followsOrder);
    song.run(true);
    voices.forgetTicks();
    plan.order.follow(ticks);
    for (const part of plan.ordered) {
      if (!part.walk) part.locate(song.frame, ticks);
      part.cursor.choose(plan.wantedPattern(part), null);
      part.isTakenOver = false;
      part.player.joinSerial = 0;
      part.bindPattern();
    }
    plan.order.followTempo();
    this.seek(true);
  }

  /** Starts what is due now; ends the song when its end has come. */
  run(): void {
    if (this.endIfDue()) return;
    const { beats } = this;
    while (this.song.clock.frameAt(beats.nextTicks) <= this.song.frame) {
      // Before the song's first bar line it is counted in, whether the click is on or not.
      if (this.song.values[SONG.clickOn] || beats.nextTicks < 0) {
        this.click.start(this.song.values[SONG.clickSound]!, beats.isBarLine);
      }
      beats.advance();
    }
    this.followTempo();
    const { frame, gridFrame } = this.song;
    const isStep = framesToLook(frame, gridFrame) === CONTROL_FRAMES;
    const { order } = this.plan;
    if (isStep || order.nextSectionFrame <= frame) order.lookAtLanes();
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
      const { walk } = part;
      while (walk && walk.nextTicks !== Infinity && this.song.clock.frameAt(walk.nextTicks) <= this.song.frame) {
        this.plan.order.takeTurn(part);
      }
      if (cursor.changeAt(this.song.frame, clock)) {
        part.bindPattern();
        part.isTakenOver = true;
        this.plan.lookAtLanes(part);
      } else if (isStep) this.plan.lookAtLanes(part);
      order.followChanges(part, clock);
      if (part.isTakenOver) this.starter.takeUp(part, clock, this.press);
      if (!part.ringsOver && cursor.endsRound(this.song.frame, clock)) this.voices.stopPattern(part);
      this.startDue(part, clock);
    }
  }

  /** Along a running order: at each step, and at the very frame where another tempo begins. */
  private followTempo(): void {
    const { song } = this;
    if (!song.followsOrder) return;
    if (song.frame < this.nextTempoFrame && framesToLook(song.frame, song.gridFrame) !== CONTROL_FRAMES) return;
    if (song.clock.followMap(song.frame)) this.plan.order.followTempo();
    this.nextTempoFrame = song.nextTempoFrame;
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
    const { nextSectionFrame } = this.plan.order;
    let next = Math.min(this.song.clock.frameAt(this.beats.nextTicks), this.nextTempoFrame, nextSectionFrame);
    if (this.song.endTicks !== Infinity) next = Math.min(next, this.song.clock.frameAt(this.song.endTicks));
    for (let index = 0; index < this.plan.ordered.length; index++) {
      const part = this.plan.ordered[index]!;
      const clock = part.clockOr(this.song.clock);
      next = Math.min(next, part.cursor.nextFrame(clock));
      if (!part.ringsOver) next = Math.min(next, part.cursor.roundEndFrame(clock, this.song.frame));
      const turnTicks = part.walk?.nextTicks ?? Infinity;
      if (turnTicks !== Infinity) next = Math.min(next, this.song.clock.frameAt(turnTicks));
      next = Math.min(next, part.changeFrame);
      if (part.changeTicks !== Infinity) next = Math.min(next, this.song.clock.frameAt(part.changeTicks));
      if (part.waiting.atTicks !== Infinity) next = Math.min(next, clock.frameAt(part.waiting.atTicks));
    }
    return Math.max(1, next - this.song.frame);
  }
}
