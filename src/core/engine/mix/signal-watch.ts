/** The last of a signal before and after an effect, for whoever looks at it: both sides together. */
import type { StereoBus } from './effects/effect.ts';

/** Samples that are looked at, and after how many new ones again. */
export const WATCHED_FRAMES = 2048;
const FRESH_FRAMES = 1024;

export interface Watched {
  effectId: string;
  before: Float32Array;
  after: Float32Array;
}

export class SignalWatch {
  private readonly before = new Float32Array(WATCHED_FRAMES);
  private readonly after = new Float32Array(WATCHED_FRAMES);
  private at = 0;
  private fresh = 0;

  constructor(readonly effectId: string) {}

  /** What comes in; then {@link see} what came of it. */
  expect({ left, right }: StereoBus, from: number, count: number): void {
    this.put(this.before, left, right, from, count);
  }

  see({ left, right }: StereoBus, from: number, count: number): void {
    this.put(this.after, left, right, from, count);
    this.at = (this.at + count) % WATCHED_FRAMES;
    this.fresh += count;
  }

  private put(into: Float32Array, left: Float32Array, right: Float32Array, from: number, count: number): void {
    let { at } = this;
    for (let i = from; i < from + count; i++) {
      into[at] = (left[i]! + right[i]!) / 2;
      at = at + 1 === WATCHED_FRAMES ? 0 : at + 1;
    }
  }

  /** Copies, the oldest sample first; null when there is little new. */
  take(): Watched | null {
    if (this.fresh < FRESH_FRAMES) return null;
    this.fresh = 0;
    return { effectId: this.effectId, before: this.inOrder(this.before), after: this.inOrder(this.after) };
  }

  private inOrder(ring: Float32Array): Float32Array {
    const copy = new Float32Array(WATCHED_FRAMES);
    copy.set(ring.subarray(this.at));
    copy.set(ring.subarray(0, this.at), WATCHED_FRAMES - this.at);
    return copy;
  }
}
