/** Which treatment a pattern has on where it is, and when that changes next. Allocates nothing. */
import type { PatternFragment } from '../plan/fragments.ts';

type Changes = readonly { at: number; treatmentId: string }[];
const NONE: Changes = [];
/** Positions nearer than this are the same. */
const SAME_TICKS = 1e-6;

export class TreatmentChanges {
  /** '' where none is on. */
  treatmentId = '';
  /** How long that stays, in ticks from the position that was looked at; Infinity: for good. */
  leftTicks = Infinity;
  /** The pattern that was looked at. */
  private of: PatternFragment | null = null;
  private list: Changes = NONE;

  /** Is there anything to be looked at in this pattern, or left from another? */
  concerns(pattern: PatternFragment | null, changes: Readonly<Record<string, Changes>>): boolean {
    this.list = (pattern && changes[pattern.id]) ?? NONE;
    return this.list.length > 0 || this.treatmentId !== '';
  }

  /** Was another pattern looked at last? */
  isOther(pattern: PatternFragment | null): boolean {
    return pattern !== this.of;
  }

  /**
   * Looks where the pattern is: before its first change it has none on, in each round anew.
   * @param ticks since its first round began
   */
  look(pattern: PatternFragment | null, ticks: number): void {
    this.of = pattern;
    this.treatmentId = '';
    this.leftTicks = Infinity;
    const { list } = this;
    if (!pattern || list.length === 0) return;
    const { lengthTicks } = pattern;
    const begun = ticks + SAME_TICKS;
    const inRound = begun - Math.floor(begun / lengthTicks) * lengthTicks;
    let next = lengthTicks;
    for (let place = list.length - 1; place >= 0; place--) {
      const { at, treatmentId } = list[place]!;
      if (at <= inRound) {
        this.treatmentId = treatmentId;
        break;
      }
      if (at < next) next = at;
    }
    this.leftTicks = next - inRound;
  }

  /** The song stands: nothing is put on. */
  forget(): void {
    this.of = null;
    this.treatmentId = '';
    this.leftTicks = Infinity;
  }
}
