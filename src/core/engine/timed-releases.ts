/** Presses that end at a musical time, of strips and of helpers: another tempo moves it. Made once. */
import type { SongClock } from './sequence/song-clock.ts';

interface Release {
  isTaken: boolean;
  noteId: number;
  ticks: number;
  clock: SongClock | null;
}

export class TimedReleases {
  private readonly all: readonly Release[];
  private count = 0;

  /** @param most that can wait at once */
  constructor(
    private readonly letGo: (noteId: number) => void,
    most = 256,
  ) {
    this.all = Array.from({ length: most }, (): Release => ({ isTaken: false, noteId: -1, ticks: 0, clock: null }));
  }

  /** A press ends at a position by a clock; where too many wait, the first of them ends now. */
  add(noteId: number, ticks: number, clock: SongClock): void {
    let free: Release | null = null;
    for (let i = 0; i < this.all.length && !free; i++) if (!this.all[i]!.isTaken) free = this.all[i]!;
    if (!free) this.end((free = this.all[0]!));
    free.isTaken = true;
    free.noteId = noteId;
    free.ticks = ticks;
    free.clock = clock;
    this.count++;
  }

  /** Lets go what has come to its end. */
  run(frame: number): void {
    if (this.count === 0) return;
    for (const one of this.all) if (one.isTaken && one.clock!.frameAt(one.ticks) <= frame) this.end(one);
  }

  /** Lets all go. */
  endAll(): void {
    for (const one of this.all) if (one.isTaken) this.end(one);
  }

  /** They have been let go otherwise. */
  clear(): void {
    for (const one of this.all) one.isTaken = false;
    this.count = 0;
  }

  /** The song has been put elsewhere: they end when they would have. */
  shift(ticks: number): void {
    for (const one of this.all) one.ticks += ticks;
  }

  private end(one: Release): void {
    one.isTaken = false;
    this.count--;
    this.letGo(one.noteId);
  }

  /** Frame of the first; Infinity when none waits. */
  get nextFrame(): number {
    if (this.count === 0) return Infinity;
    let next = Infinity;
    for (const { isTaken, clock, ticks } of this.all) if (isTaken) next = Math.min(next, clock!.frameAt(ticks));
    return next;
  }
}
