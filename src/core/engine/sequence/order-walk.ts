/** Where a part is in the running order: what it plays now, since when, and where that ends. Allocates nothing. */
import type { OrderFragment } from '../plan/order-fragment.ts';

export class OrderWalk {
  /** What it plays now; '' for a rest. */
  patternId = '';
  /** How it sounds meanwhile; '' for as it does by itself. */
  treatmentId = '';
  /** Where that begins, and what comes next, in ticks of the song. */
  startTicks = 0;
  nextTicks = Infinity;
  private order: OrderFragment | null = null;
  private partId = '';
  private section = 0;
  private round = 0;
  private turn = 0;

  /** Finds what is played at a position; before the song begins that is what it begins with. */
  seek(order: OrderFragment, partId: string, ticks: number): void {
    this.order = order;
    this.partId = partId;
    const { sections } = order;
    let section = 0;
    while (section + 1 < sections.length && sections[section + 1]!.startTicks <= ticks) section++;
    const { startTicks, roundTicks, repeats } = sections[section]!;
    const gone = Math.max(0, ticks - startTicks);
    this.section = section;
    this.round = Math.min(repeats - 1, Math.floor(gone / roundTicks));
    this.turn = 0;
    this.settle();
    while (this.nextTicks <= ticks && this.advance());
  }

  /** Goes on to what comes next. @returns false at the end */
  advance(): boolean {
    const { sections } = this.order!;
    const turns = this.turns();
    if (this.turn + 1 < (turns?.length ?? 1)) this.turn++;
    else if (this.round + 1 < sections[this.section]!.repeats) {
      this.round++;
      this.turn = 0;
    } else if (this.section + 1 < sections.length) {
      this.section++;
      this.round = this.turn = 0;
    } else {
      this.nextTicks = Infinity;
      return false;
    }
    this.settle();
    return true;
  }

  private turns() {
    const { turns, repeats } = this.order!.sections[this.section]!;
    const own = turns.get(this.partId);
    return this.round === repeats - 1 ? own?.last : own?.each;
  }

  private settle(): void {
    const { startTicks, roundTicks } = this.order!.sections[this.section]!;
    const roundStart = startTicks + this.round * roundTicks;
    const turns = this.turns();
    this.patternId = turns?.[this.turn]?.patternId ?? '';
    this.treatmentId = turns?.[this.turn]?.treatmentId ?? '';
    this.startTicks = roundStart + (turns?.[this.turn]?.startTicks ?? 0);
    this.nextTicks = roundStart + (turns?.[this.turn + 1]?.startTicks ?? roundTicks);
  }
}
