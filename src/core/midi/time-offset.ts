/**
 * How two clocks lie to each other when times of one are told to the other with a delay that is never negative: the least
 * distance of the last seconds is the truest. It moves on softly, so that what is timed by it does not jump.
 */
const KEPT_MS = 4000;
/** As far as it moves with one look, in milliseconds. */
const STEP_MS = 0.02;
/** Further away than this the clocks have jumped: at once where the other is ahead, else when so many looks agree. */
const JUMP_MS = 20;
const AGREEING = 8;
const AGREEING_MS = 400;

interface Look {
  atMs: number;
  offsetMs: number;
}

const leastOf = (looks: readonly Look[]) => Math.min(...looks.map(({ offsetMs }) => offsetMs));

export class TimeOffset {
  private readonly looks: Look[] = [];
  private offset: number | null = null;

  /** @param toldMs a time of the other clock @param atMs when it was heard of, by the own */
  note(toldMs: number, atMs: number): void {
    this.looks.push({ atMs, offsetMs: atMs - toldMs });
    while (this.looks.length > 1 && this.looks[0]!.atMs < atMs - KEPT_MS) this.looks.shift();
    let least = leastOf(this.looks);
    const latest = this.looks.filter((look) => look.atMs > atMs - AGREEING_MS);
    // Sound that broke off stands still for a while: what was told before is no measure any more.
    if (latest.length >= AGREEING && leastOf(latest) > least + JUMP_MS) {
      this.looks.splice(0, this.looks.length, ...latest);
      least = leastOf(latest);
    }
    const away = this.offset === null ? JUMP_MS + 1 : least - this.offset;
    if (Math.abs(away) > JUMP_MS) this.offset = least;
    else this.offset = this.offset! + Math.max(-STEP_MS, Math.min(STEP_MS, away));
  }

  /** A time of the other clock by the own; null before anything was heard of it. */
  toOwn(toldMs: number): number | null {
    return this.offset === null ? null : toldMs + this.offset;
  }
}
