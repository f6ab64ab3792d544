/**
 * Where an input breaks off: the machine was too busy to fetch what came, and silence stands in its place. An input that
 * merely falls silent sinks into it; one that breaks off does so in the middle of what it says, and goes on as suddenly.
 */

/** A block of the audio graph: what is missing is missing by the block. */
const LEAST_FRAMES = 128;
/** What stands still for longer has been switched off. */
const LONGEST_SECONDS = 2;
/** While an input is being opened it stutters: nobody plays yet. */
const OPENING_SECONDS = 0.3;
/** So much before it, and behind it, has to be louder than nothing: two steps of 16 bits. */
const EDGE_FRAMES = 32;
const EDGE_LEVEL = 2 ** -14;

export interface InputGap {
  /** Since the first frame that was fed. */
  atFrame: number;
  frames: number;
}

export class InputGaps {
  private frame = 0;
  private silentFrames = 0;
  /** Mean level of the last frames before the silence, and of the first behind it. */
  private before = 0;
  private behind = 0;
  private behindFrames = 0;
  private open: InputGap | null = null;

  constructor(private readonly sampleRate: number) {}

  /**
   * Takes the next frames of both sides.
   * @returns the gaps that are over: each is known once it goes on
   */
  feed(left: Float32Array, right: Float32Array): InputGap[] {
    const found: InputGap[] = [];
    for (let i = 0; i < left.length; i++, this.frame++) {
      const level = Math.max(Math.abs(left[i]!), Math.abs(right[i]!));
      if (level === 0) {
        this.silentFrames++;
        continue;
      }
      if (this.silentFrames >= LEAST_FRAMES) this.goesOn();
      this.silentFrames = 0;
      this.before += (level - this.before) / EDGE_FRAMES;
      const gap = this.open && this.heardBehind(level);
      if (gap) found.push(gap);
    }
    return found;
  }

  private goesOn(): void {
    const frames = this.silentFrames;
    const atFrame = this.frame - frames;
    const isOpening = atFrame < OPENING_SECONDS * this.sampleRate;
    const isGap = !isOpening && this.before > EDGE_LEVEL && frames <= LONGEST_SECONDS * this.sampleRate;
    this.open = isGap ? { atFrame, frames } : null;
    this.behind = this.behindFrames = this.before = 0;
  }

  private heardBehind(level: number): InputGap | null {
    this.behind += level / EDGE_FRAMES;
    if (++this.behindFrames < EDGE_FRAMES) return null;
    const gap = this.behind > EDGE_LEVEL ? this.open : null;
    this.open = null;
    return gap;
  }
}
