/** A number on its way through a control step, sample by sample: what a setting comes to is reached without steps. */
import { CONTROL_FRAMES } from '../../../control/control-step.ts';

export class Ramp {
  now = 0;
  private step = 0;
  private left = 0;
  private isNew = true;

  /** The next aim is there at once. */
  reset(): void {
    this.isNew = true;
    this.left = 0;
  }

  /** To be reached by the next control step. */
  aim(to: number): void {
    if (this.isNew) this.now = to;
    this.isNew = false;
    this.left = to === this.now ? 0 : CONTROL_FRAMES;
    this.step = (to - this.now) / CONTROL_FRAMES;
  }

  get isMoving(): boolean {
    return this.left > 0;
  }

  /** On by one sample. */
  next(): number {
    if (this.left > 0) {
      this.left--;
      this.now += this.step;
    }
    return this.now;
  }

  /** On by `count` samples, into an array. */
  run(into: Float64Array, count: number): void {
    if (this.left === 0) {
      into.fill(this.now, 0, count);
      return;
    }
    for (let i = 0; i < count; i++) into[i] = this.next();
  }
}

/** Shares of several ways to do something, which give way to each other over a few milliseconds. */
export class Ways {
  readonly shares: Float64Array;
  private to = 0;
  private isNew = true;

  /** @param frames in which one gives way to another */
  constructor(
    count: number,
    private readonly frames = 256,
  ) {
    this.shares = new Float64Array(count);
  }

  reset(): void {
    this.isNew = true;
  }

  aim(way: number): void {
    this.to = way;
    if (!this.isNew) return;
    this.isNew = false;
    this.shares.fill(0);
    this.shares[way] = 1;
  }

  /** The only way there is; -1 while one gives way to another. */
  get only(): number {
    return this.shares[this.to] === 1 ? this.to : -1;
  }

  /** On by one sample. */
  next(): void {
    const { shares, to } = this;
    if (shares[to] === 1) return;
    const step = 1 / this.frames;
    shares[to] = Math.min(1, shares[to]! + step);
    let others = 0;
    for (let i = 0; i < shares.length; i++) if (i !== to) others += shares[i]!;
    const rest = others > 0 ? (1 - shares[to]) / others : 0;
    for (let i = 0; i < shares.length; i++) if (i !== to) shares[i]! *= rest;
  }
}
