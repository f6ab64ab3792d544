/** Tempo from taps. */

/** A pause longer than this begins anew, in milliseconds. */
const PAUSE_MS = 2000;
const MAX_TAPS = 8;

export class TapTempo {
  private times: number[] = [];

  /** @returns beats a minute from the mean distance of the last taps; null before the second tap */
  tap(timeMs: number): number | null {
    if (timeMs - (this.times.at(-1) ?? -Infinity) > PAUSE_MS) this.times = [];
    this.times = [...this.times, timeMs].slice(-MAX_TAPS);
    const first = this.times[0]!;
    const last = this.times.at(-1)!;
    if (this.times.length < 2 || last <= first) return null;
    return Math.round((60_000 * (this.times.length - 1) * 10) / (last - first)) / 10;
  }
}
