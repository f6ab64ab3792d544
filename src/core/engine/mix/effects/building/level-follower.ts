/** The level of a signal, by its own rise and fall. */

/** How much of the way to go a sample, so that 63% of it are gone after a time. */
export function perSample(ms: number, sampleRate: number): number {
  return 1 - Math.exp(-1000 / (Math.max(1e-3, ms) * sampleRate));
}

export class LevelFollower {
  level = 0;
  private rise = 1;
  private fall = 1;

  reset(): void {
    this.level = 0;
  }

  set(attackMs: number, releaseMs: number, sampleRate: number): void {
    this.rise = perSample(attackMs, sampleRate);
    this.fall = perSample(releaseMs, sampleRate);
  }

  /** @param amount 0 or more */
  next(amount: number): number {
    this.level += (amount - this.level) * (amount > this.level ? this.rise : this.fall);
    if (this.level < 1e-12) this.level = 0;
    return this.level;
  }
}
