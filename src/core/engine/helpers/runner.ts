/** Plays the sounds under held keys by itself, step after step on a grid of note values. */
import { NOTE_QUARTERS } from '../../params/effect-rows/common.ts';
import { RUNNER } from '../../params/helper-rows/runner.ts';
import { hashed01, mix32 } from '../../units/hash.ts';
import { TICKS_PER_BEAT } from '../../units/time.ts';
import { LATE_FRAMES, NoteHelper } from './helper.ts';
import { AS_PLAYED, EACH, newPlace, soundAt } from './orders.ts';
import { RunPool } from './run-pool.ts';
import { copyNote, plainNote, type WayNote } from './way-note.ts';

/** Places of the choices. */
const FILLED = 1;
const FIXED = 1;
const DRAWN = 2;
const WITH_SONG = 1;
/** Two positions nearer than this are one, in ticks. */
const SAME_TICKS = 1e-6;
/** What is drawn for a step, beside its sound. */
const FOR_REST = 0x5e57;

export class RunnerHelper extends NoteHelper {
  private readonly pool = new RunPool();
  private readonly place = newPlace();
  private readonly out = plainNote();
  /** Where its grid hangs, by the part's clock. */
  private anchorTicks = 0;
  /** The step before was here. */
  private lastTicks = -Infinity;
  /** Steps so far, rests too, and how often the sound has been played that has its turn. */
  private steps = 0;
  private hits = 0;
  /** Number of the step on its grid that comes next, and where that is. */
  private nextStep = 0;
  private nextTicks = Infinity;

  on(note: WayNote): void {
    const { pool } = this;
    // Latched ones make room for the first of others.
    if (pool.heldCount > 0 && !pool.isAnyDown) pool.dropAll();
    const isFirst = pool.heldCount === 0;
    pool.add(note);
    if (isFirst) this.begin(note.ticks);
  }

  off(noteId: number): void {
    const one = this.pool.find(noteId);
    if (!one) this.next.off(noteId);
    else if (this.now[RUNNER.latched] !== 0) one.isDown = false;
    else this.drop(noteId);
  }

  private drop(noteId: number): void {
    const one = this.pool.find(noteId);
    if (one) this.pool.drop(one);
    if (this.pool.heldCount === 0) this.releases.endAll();
  }

  private begin(ticks: number): void {
    const { now, place } = this;
    const isWithSong = now[RUNNER.starts] === WITH_SONG;
    this.anchorTicks = isWithSong ? 0 : ticks;
    this.lastTicks = ticks - 2 * SAME_TICKS;
    this.findNext();
    const stepsBefore = isWithSong ? Math.max(0, this.nextStep) : 0;
    const hits = now[RUNNER.hits]!;
    this.steps = stepsBefore;
    place.turn = Math.floor(stepsBefore / hits);
    this.hits = stepsBefore % hits;
    place.last = -1;
    place.bagTurn = -1;
  }

  private get stepTicks(): number {
    return NOTE_QUARTERS[this.now[RUNNER.rate]!]! * TICKS_PER_BEAT;
  }

  /** The first place on the grid after the step before that has not gone by: another rate goes on from there. */
  private findNext(): void {
    const { ground, stepTicks, anchorTicks, lastTicks } = this;
    const swing = (2 * this.now[RUNNER.swingPercent]!) / 100;
    let step = Math.floor((lastTicks - anchorTicks) / stepTicks) - 1;
    for (; ; step++) {
      const isOff = (step & 1) !== 0;
      const ticks = anchorTicks + (isOff ? (step - 1 + swing) * stepTicks : step * stepTicks);
      if (ticks <= lastTicks + SAME_TICKS || ground.clock.frameAt(ticks) < ground.frame - LATE_FRAMES) continue;
      this.nextStep = step;
      this.nextTicks = ticks;
      return;
    }
  }

  run(): void {
    const { pool, ground } = this;
    if (pool.heldCount === 0) return;
    if (this.now[RUNNER.latched] === 0) this.dropLatched();
    if (pool.heldCount === 0) return;
    this.findNext();
    if (ground.clock.frameAt(this.nextTicks) > ground.frame) return;
    this.step(this.nextTicks);
    this.lastTicks = this.nextTicks;
    this.findNext();
  }

  private dropLatched(): void {
    for (const one of this.pool.held) if (one.isTaken && !one.isDown) this.drop(one.note.noteId);
  }

  private fill(): void {
    const { now, pool, place } = this;
    pool.fill(this.ground, now[RUNNER.plays] === FILLED, now[RUNNER.octaves]!, now[RUNNER.order] === AS_PLAYED);
    place.count = pool.count;
  }

  private step(ticks: number): void {
    const { now, pool, place, fragment } = this;
    this.fill();
    if (pool.count === 0) return;
    // By the place in the song, so that a bounce draws what was heard.
    const seed = mix32(fragment.seed, Math.round(ticks * 8));
    place.seed = seed;
    const at =
      this.hits > 0 && place.last >= 0 ? Math.min(place.last, pool.count - 1) : soundAt(now[RUNNER.order]!, place);
    const isRest = hashed01(seed, FOR_REST) * 100 < now[RUNNER.restPercent]!;
    if (!isRest) this.play(at, ticks, seed);
    place.last = at;
    this.steps++;
    if (++this.hits >= now[RUNNER.hits]!) {
      this.hits = 0;
      place.turn++;
    }
  }

  private play(at: number, ticks: number, seed: number): void {
    const { now, pool, out, ground } = this;
    const { note } = pool.held[pool.heldPlace[at]!]!;
    copyNote(note, out);
    out.noteId = out.pressId = ground.newNoteId();
    out.key = pool.key[at]!;
    out.cents = note.cents + 1200 * pool.octavesByPitch[at]!;
    out.velocity = this.strength(note.velocity);
    out.seed = seed;
    out.ticks = ticks;
    const endTicks = ticks + (this.stepTicks * now[RUNNER.gatePercent]!) / 100;
    out.cutTicks = now[RUNNER.cuts] !== 0 ? endTicks : Infinity;
    if (out.velocity <= 0) return;
    this.next.on(out);
    this.endAt(out.noteId, endTicks);
  }

  private strength(played: number): number {
    const { now, fragment } = this;
    const how = now[RUNNER.strength];
    if (how === FIXED) return now[RUNNER.fixedStrength]!;
    const { strengths } = fragment;
    return how === DRAWN && strengths.length > 0 ? strengths[this.steps % strengths.length]! : played;
  }

  get nextFrame(): number {
    const released = this.releases.nextFrame;
    if (this.pool.heldCount === 0) return released;
    this.findNext();
    return Math.min(released, this.ground.clock.frameAt(this.nextTicks));
  }

  letGo(): void {
    this.releases.endAll();
  }

  override forget(): void {
    this.pool.dropAll();
    this.releases.endAll();
  }

  endPatterns(): void {
    for (const one of this.pool.held) if (one.isTaken && one.note.isOfPattern) this.drop(one.note.noteId);
  }

  override shift(ticks: number): void {
    super.shift(ticks);
    this.anchorTicks = this.now[RUNNER.starts] === WITH_SONG ? 0 : this.anchorTicks + ticks;
    this.lastTicks += ticks;
  }

  override get heldKeys(): readonly number[] {
    return this.pool.held.filter(({ isTaken }) => isTaken).map(({ note }) => note.key);
  }

  override get nextKey(): number {
    if (this.pool.heldCount === 0) return -1;
    this.fill();
    const { place, pool } = this;
    // A new order is drawn when its turn comes.
    if (this.now[RUNNER.order] === EACH && place.turn % Math.max(1, place.count) === 0) return -1;
    // What is drawn is drawn from where it will be.
    this.findNext();
    place.seed = mix32(this.fragment.seed, Math.round(this.nextTicks * 8));
    const isAgain = this.hits > 0 && place.last >= 0;
    const at = isAgain ? Math.min(place.last, pool.count - 1) : soundAt(this.now[RUNNER.order]!, place);
    return pool.key[at] ?? -1;
  }
}
