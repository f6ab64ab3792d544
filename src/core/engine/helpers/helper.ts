/** What all helpers have in common: settings that may be moved, presses that end in time, and the way on. */
import { HELPER_ROWS } from '../../params/helpers.ts';
import { OwnerValues } from '../control/owner-values.ts';
import type { HelperFragment } from '../plan/fragments.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import { TimedReleases } from '../timed-releases.ts';
import type { KeyGround, NoteSink, WayNote } from './way-note.ts';

/**
 * What is due and came too late by no more than this is played: another tempo may move it so far. More than that, and its rate
 * is another: the next on its grid is waited for.
 */
export const LATE_FRAMES = 32;

export abstract class NoteHelper implements NoteSink {
  readonly owner: OwnerValues;
  /** Where its notes go. */
  next: NoteSink;
  fragment: HelperFragment;
  protected readonly releases = new TimedReleases((noteId) => this.next.off(noteId));

  constructor(
    fragment: HelperFragment,
    protected readonly ground: KeyGround,
    end: NoteSink,
  ) {
    this.fragment = fragment;
    this.next = end;
    this.owner = new OwnerValues(HELPER_ROWS[fragment.kind], fragment.values, ground.sampleRate);
  }

  take(fragment: HelperFragment): void {
    this.fragment = fragment;
    this.owner.take(fragment.values);
  }

  /** Its settings as they are now. */
  protected get now(): Float64Array {
    this.owner.fold();
    return this.owner.now;
  }

  /** A note that it has made ends by itself. */
  protected endAt(noteId: number, ticks: number): void {
    this.releases.add(noteId, ticks, this.ground.clock as SongClock);
  }

  abstract on(note: WayNote): void;
  abstract off(noteId: number): void;

  /** Lets go what has come to its end. */
  runReleases(): void {
    this.releases.run(this.ground.frame);
  }

  /** It answers what is over: it comes before what is pressed on the same frame, which is not cut off by it. */
  readonly isAnswer: boolean = false;

  /** Plays what is due. */
  abstract run(): void;

  /** Frame of what is due next; Infinity when nothing is. */
  abstract get nextFrame(): number;

  /** What it has pressed is let go; what it is told of keys stays. */
  abstract letGo(): void;

  /** It knows of no key any more, and presses none. */
  forget(): void {
    this.letGo();
  }

  /** The song stops, or ends: what only patterns hold is let go, and nothing goes on for ever. */
  abstract endPatterns(): void;

  /** The song has been put elsewhere: what is due comes when it would have. */
  shift(ticks: number): void {
    this.releases.shift(ticks);
  }

  /** Keys that it holds, for those who look. */
  get heldKeys(): readonly number[] {
    return [];
  }

  /** The key that it plays next; -1 where that cannot be told. */
  get nextKey(): number {
    return -1;
  }
}
