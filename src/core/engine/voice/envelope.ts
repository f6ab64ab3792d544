/**
 * The level of a voice over time: attack, hold, decay, sustain, each stretch straight or bent (the ADSR of the trade with
 * a hold; C. Roads, "The Computer Music Tutorial", 1996, chapter "Sound synthesis fundamentals", from memory). The
 * release is the fade that a voice is stopped with.
 */
import { bent } from '../../dsp/bend.ts';

/** A decay of no time after an attack still takes this long, so that it makes no click. In frames. */
const MIN_DECAY_FRAMES = 32;

/** Times in frames, levels 0..1, bends -1..1 (see {@link bent}). */
export interface EnvelopeShape {
  attackFrames: number;
  holdFrames: number;
  decayFrames: number;
  sustain: number;
  attackBend: number;
  decayBend: number;
}

export class Envelope {
  /** Since the voice began; it goes on over a change of what is played. */
  ageFrames = 0;
  private attackFrames = 0;
  /** Where the decay begins. */
  private topEndFrame = 0;
  private decayFrames = 0;
  private sustain = 1;
  private attackBend = 0;
  private decayBend = 0;

  start(shape: EnvelopeShape): void {
    this.ageFrames = 0;
    this.set(shape);
  }

  /** Takes other settings on the way. */
  set({ attackFrames, holdFrames, decayFrames, sustain, attackBend, decayBend }: EnvelopeShape): void {
    const needsDecay = sustain < 1 && attackFrames + holdFrames > 0;
    this.attackFrames = attackFrames;
    this.topEndFrame = attackFrames + (sustain === 1 ? 0 : holdFrames);
    this.decayFrames = sustain === 1 ? 0 : needsDecay ? Math.max(MIN_DECAY_FRAMES, decayFrames) : decayFrames;
    this.sustain = sustain;
    this.attackBend = attackBend;
    this.decayBend = decayBend;
  }

  /** Stays where it is: from here on a release lowers it (C. Roads, as above: the release begins at the level of its moment). */
  stay(): void {
    this.sustain = this.levelAt(0);
    this.attackFrames = this.topEndFrame = this.decayFrames = 0;
  }

  /** Goes on from where another one is. */
  follow(other: Envelope): void {
    this.ageFrames = other.ageFrames;
    this.attackFrames = other.attackFrames;
    this.topEndFrame = other.topEndFrame;
    this.decayFrames = other.decayFrames;
    this.sustain = other.sustain;
    this.attackBend = other.attackBend;
    this.decayBend = other.decayBend;
  }

  /** Does the level stand still from now on? */
  get isSteady(): boolean {
    return this.ageFrames >= this.topEndFrame + this.decayFrames;
  }

  /** The level that it comes to rest at. */
  get steadyLevel(): number {
    return this.sustain;
  }

  /** Level `ahead` frames from now: `(ageFrames + 1) / (attack + 1)` in the attack, full, then down to the sustain. */
  levelAt(ahead: number): number {
    const at = this.ageFrames + ahead;
    if (at < this.attackFrames) return bent((at + 1) / (this.attackFrames + 1), this.attackBend);
    const since = at - this.topEndFrame;
    if (since < 0) return 1;
    if (since >= this.decayFrames) return this.sustain;
    return 1 - (1 - this.sustain) * bent(since / this.decayFrames, this.decayBend);
  }
}
