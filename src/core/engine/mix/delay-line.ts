/** Both sides of a signal, later by a number of frames. */
import type { StereoBus } from './effects/effect.ts';

export class DelayLine {
  private readonly left: Float32Array;
  private readonly right: Float32Array;
  private at = 0;

  /** @param frames at least 1 */
  constructor(readonly frames: number) {
    this.left = new Float32Array(frames);
    this.right = new Float32Array(frames);
  }

  reset(): void {
    this.left.fill(0);
    this.right.fill(0);
    this.at = 0;
  }

  /** Exchanges one frame. */
  exchange(left: Float32Array, right: Float32Array, at: number): void {
    const l = left[at]!;
    const r = right[at]!;
    left[at] = this.left[this.at]!;
    right[at] = this.right[this.at]!;
    this.left[this.at] = l;
    this.right[this.at] = r;
    this.at = this.at + 1 === this.frames ? 0 : this.at + 1;
  }

  /** Exchanges `count` frames of a signal from `from` on for what went in earlier. */
  run({ left, right }: StereoBus, from: number, count: number): void {
    for (let i = from; i < from + count; i++) this.exchange(left, right, i);
  }
}
