/** What strips have pressed and is still to be let go, by musical time: another tempo moves it. Made once. */
import type { PartState } from './part-state.ts';
import type { SongClock } from './sequence/song-clock.ts';

/** Strips that can be pressed at once. */
const MOST = 256;

interface Release {
  part: PartState | null;
  noteId: number;
  ticks: number;
  clock: SongClock | null;
}

export class StripReleases {
  private readonly all = Array.from({ length: MOST }, (): Release => ({
    part: null,
    noteId: -1,
    ticks: 0,
    clock: null,
  }));
  private count = 0;

  constructor(private readonly letGo: (noteId: number) => void) {}

  /** A press ends at a position by a clock; where too many wait, the first of them ends now. */
  add(part: PartState, noteId: number, ticks: number, clock: SongClock): void {
    let free: Release | null = null;
    for (let i = 0; i < MOST && !free; i++) if (!this.all[i]!.part) free = this.all[i]!;
    if (!free) this.end((free = this.all[0]!));
    free.part = part;
    free.noteId = noteId;
    free.ticks = ticks;
    free.clock = clock;
    this.count++;
  }

  /** Lets go what has come to its end. */
  run(frame: number): void {
    if (this.count === 0) return;
    for (let i = 0; i < MOST; i++) {
      const one = this.all[i]!;
      if (one.part && one.clock!.frameAt(one.ticks) <= frame) this.end(one);
    }
  }

  /** Lets all go. */
  endAll(): void {
    for (const one of this.all) if (one.part) this.end(one);
  }

  /** They have been let go otherwise. */
  clear(): void {
    for (const one of this.all) one.part = null;
    this.count = 0;
  }

  private end(one: Release): void {
    one.part = null;
    this.count--;
    this.letGo(one.noteId);
  }

  /** Frame of the first; Infinity when none waits. */
  get nextFrame(): number {
    if (this.count === 0) return Infinity;
    let next = Infinity;
    for (let i = 0; i < MOST; i++) {
      const { part, clock, ticks } = this.all[i]!;
      if (part) next = Math.min(next, clock!.frameAt(ticks));
    }
    return next;
  }
}
