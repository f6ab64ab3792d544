/** The fade that a voice ends with: stopped, choked, let go, or its place taken. */
import { bent } from '../../dsp/bend.ts';

export class StopFade {
  isRunning = false;
  private leftFrames = 0;
  private totalFrames = 1;
  private bend = 0;

  reset(): void {
    this.isRunning = false;
    this.leftFrames = 0;
    this.totalFrames = 1;
    this.bend = 0;
  }

  /** Begins; a faster fade that runs already goes on, a slower one goes on from its level. */
  start(fadeFrames: number, bend = 0): void {
    const fade = Math.max(1, fadeFrames);
    if (this.isRunning && this.leftFrames <= fade) return;
    const level = this.level;
    this.isRunning = true;
    // From a level between, a straight fade: as much of a longer one as is left of it.
    this.bend = level === 1 ? bend : 0;
    this.totalFrames = Math.max(1, Math.round(fade / Math.max(level, 1e-3)));
    this.leftFrames = Math.min(fade, this.totalFrames);
  }

  /** What it leaves of the sound now, 0..1. */
  get level(): number {
    return this.isRunning ? this.levelAt(this.leftFrames) : 1;
  }

  private levelAt(leftFrames: number): number {
    const share = leftFrames / this.totalFrames;
    return this.bend === 0 ? share : 1 - bent(1 - share, this.bend);
  }

  /** Lowers the levels of the next frames. @returns how many of them are left to sound */
  apply(levels: Float64Array, count: number): number {
    if (!this.isRunning) return count;
    const sounding = Math.min(count, this.leftFrames);
    for (let i = 0; i < sounding; i++) levels[i]! *= this.levelAt(this.leftFrames - i);
    this.leftFrames -= sounding;
    return sounding;
  }

  get isOver(): boolean {
    return this.isRunning && this.leftFrames === 0;
  }
}
