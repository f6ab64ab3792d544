/**
 * The level of a voice over time: attack, decay, sustain, each a straight line of amplitude (the ADSR of the trade; C.
 * Roads, "The Computer Music Tutorial", 1996, chapter "Sound synthesis fundamentals", from memory). The release is the
 * fade that a voice is stopped with.
 */

/** A decay of no time after an attack still takes this long, so that it makes no click. In frames. */
const MIN_DECAY_FRAMES = 32;

export class Envelope {
  /** Since the voice began; it goes on over a change of what is played. */
  ageFrames = 0;
  private attackFrames = 0;
  private decayFrames = 0;
  private sustain = 1;

  start(attackFrames: number, decayFrames: number, sustain: number): void {
    this.ageFrames = 0;
    this.set(attackFrames, decayFrames, sustain);
  }

  /** Takes other settings on the way. @param sustain level 0..1 */
  set(attackFrames: number, decayFrames: number, sustain: number): void {
    const needsDecay = sustain < 1 && attackFrames > 0;
    this.attackFrames = attackFrames;
    this.decayFrames = sustain === 1 ? 0 : needsDecay ? Math.max(MIN_DECAY_FRAMES, decayFrames) : decayFrames;
    this.sustain = sustain;
  }

  /** Goes on from where another one is. */
  follow(other: Envelope): void {
    this.ageFrames = other.ageFrames;
    this.attackFrames = other.attackFrames;
    this.decayFrames = other.decayFrames;
    this.sustain = other.sustain;
  }

  /** Does the level stand still from now on? */
  get isSteady(): boolean {
    return this.ageFrames >= this.attackFrames + this.decayFrames;
  }

  /** The level that it comes to rest at. */
  get steadyLevel(): number {
    return this.sustain;
  }

  /** Level `ahead` frames from now: `(ageFrames + 1) / (attack + 1)` in the attack, then linear to the sustain. */
  levelAt(ahead: number): number {
    const at = this.ageFrames + ahead;
    const { attackFrames, decayFrames, sustain } = this;
    if (at < attackFrames) return (at + 1) / (attackFrames + 1);
    if (at - attackFrames >= decayFrames) return sustain;
    return 1 - ((1 - sustain) * (at - attackFrames)) / decayFrames;
  }
}
