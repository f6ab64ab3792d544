/** A signal that waits for others, so that what meets is of one moment; another wait comes in over the old one. */
import { DelayMemory } from './effects/building/delay-memory.ts';
import type { StereoBus } from './effects/effect.ts';

/** Effects that look further ahead than this, all together, are not waited for. */
export const MOST_WAIT_FRAMES = 8000;
/** In which one wait gives way to another. */
const CROSS_FRAMES = 256;

export class Wait {
  /** Once it has to wait: both sides. */
  private past: readonly [DelayMemory, DelayMemory] | null = null;
  private pastFrames = 0;
  /** For how long nothing has passed. */
  private quietFrames = Infinity;
  /** By how much it comes later, was to before, and is to; how far one has given way to the other. */
  private waits = 0;
  private waited = 0;
  private waitsTo = 0;
  private crossLeft = 0;

  /** Has it ever had to wait? */
  get isNeeded(): boolean {
    return this.past !== null;
  }

  /** @param isQuiet nothing sounds in it */
  aim(frames: number, isQuiet: boolean): void {
    this.waitsTo = Math.min(frames, MOST_WAIT_FRAMES);
    if (frames > 0 && !this.past) {
      this.past = [new DelayMemory(MOST_WAIT_FRAMES + 1), new DelayMemory(MOST_WAIT_FRAMES + 1)];
      this.quietFrames = isQuiet ? Infinity : 0;
    }
    this.arrive();
  }

  /** Where nothing is in the past, nothing of it is torn. */
  arrive(): void {
    if (this.quietFrames <= Math.max(this.waits, this.waited, this.waitsTo)) return;
    this.waits = this.waitsTo;
    this.crossLeft = 0;
  }

  /** Nothing has passed yet. */
  reset(): void {
    this.past?.forEach((side) => side.reset());
    this.pastFrames = 0;
    this.quietFrames = Infinity;
    this.arrive();
  }

  /** Exchanges `count` frames of a signal for what went in earlier. */
  run(signal: StereoBus, from: number, count: number): void {
    if (this.past) this.carry(signal, from, count, signal, from);
  }

  /** Puts what went in earlier into another bus. */
  carry({ left, right }: StereoBus, from: number, count: number, to: StereoBus, toFrom: number): void {
    const [l, r] = this.past!;
    for (let i = 0; i < count; i++) {
      const inLeft = left[from + i]!;
      const inRight = right[from + i]!;
      l.write(inLeft);
      r.write(inRight);
      this.pastFrames++;
      this.quietFrames = inLeft === 0 && inRight === 0 ? this.quietFrames + 1 : 0;
      // Not before enough has passed.
      if (this.waitsTo !== this.waits && this.crossLeft === 0 && this.pastFrames > this.waitsTo) {
        this.waited = this.waits;
        this.waits = this.waitsTo;
        this.crossLeft = CROSS_FRAMES;
      }
      const late = 1 + this.waits;
      let outLeft = l.read(late);
      let outRight = r.read(late);
      if (this.crossLeft > 0) {
        const share = --this.crossLeft / CROSS_FRAMES;
        outLeft += (l.read(1 + this.waited) - outLeft) * share;
        outRight += (r.read(1 + this.waited) - outRight) * share;
      }
      to.left[toFrom + i] = outLeft;
      to.right[toFrom + i] = outRight;
    }
  }
}
