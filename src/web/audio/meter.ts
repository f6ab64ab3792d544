/**
 * What a level meter shows: it rises at once and falls steadily, and holds the peak (the habits of a programme meter that
 * shows sample peaks; falling by 20 dB in 1.7 s as IEC 60268-18 has it, from memory).
 */

/** Meters span this many dB below full scale. */
export const METER_RANGE_DB = 48;
const FALL_DB_A_SECOND = 20 / 1.7;
const HOLD_MS = 2500;

export class MeterBallistics {
  /** In dB below full scale; minus infinity for silence. */
  shownDb = -Infinity;
  heldDb = -Infinity;
  /** Something was over full scale since this was forgotten. */
  isOver = false;
  private heldSince = 0;
  private lastMs = 0;

  /** @param peak loudest amplitude since the last time, 1 is full scale @param nowMs time of the look */
  take(peak: number, nowMs: number): void {
    const db = peak > 0 ? 20 * Math.log10(peak) : -Infinity;
    const fallen = this.shownDb - (FALL_DB_A_SECOND * Math.max(0, nowMs - this.lastMs)) / 1000;
    this.lastMs = nowMs;
    this.shownDb = Math.max(db, fallen < -METER_RANGE_DB ? -Infinity : fallen);
    if (db >= this.heldDb || nowMs - this.heldSince > HOLD_MS) {
      this.heldDb = this.shownDb;
      this.heldSince = nowMs;
    }
    // Full scale itself can be written to a file; what is beyond it cannot.
    if (peak > 1) this.isOver = true;
  }

  forget(): void {
    this.isOver = false;
    this.heldDb = this.shownDb;
  }
}
