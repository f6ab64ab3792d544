/** Counts the beats of a song: those that are clicked, in the metre of where it is. */
import type { OrderFragment } from '../plan/order-fragment.ts';

export class Beats {
  /** The beat that comes next, in ticks; and whether a bar begins with it. */
  nextTicks = 0;
  isBarLine = true;
  private order: OrderFragment | null = null;
  private section = -1;
  /** Counted from the beginning of the section, or of the song; below 0 it is counted in. */
  private beat = 0;
  private beatTicks = 960;
  private beatsABar = 4;

  /** @param beatTicks of the song, which hold where no section says otherwise */
  seek(ticks: number, order: OrderFragment | null, beatTicks: number, beatsABar: number): void {
    this.order = order;
    this.section = -1;
    this.beatTicks = beatTicks;
    this.beatsABar = beatsABar;
    let start = 0;
    if (order) {
      this.section = 0;
      while (this.section + 1 < order.sections.length && order.sections[this.section + 1]!.startTicks <= ticks)
        this.section++;
      start = this.takeSection();
    }
    this.beat = Math.ceil((ticks - start) / this.beatTicks);
    this.settle();
  }

  advance(): void {
    this.beat++;
    this.settle();
  }

  private takeSection(): number {
    const { beatTicks, beatsABar, startTicks } = this.order!.sections[this.section]!;
    this.beatTicks = beatTicks;
    this.beatsABar = beatsABar;
    return startTicks;
  }

  private settle(): void {
    const start = this.section < 0 ? 0 : this.order!.sections[this.section]!.startTicks;
    this.nextTicks = start + this.beat * this.beatTicks;
    const next = this.section < 0 ? undefined : this.order!.sections[this.section + 1];
    if (next && this.nextTicks >= next.startTicks) {
      this.section++;
      this.nextTicks = this.takeSection();
      this.beat = 0;
    }
    this.isBarLine = this.beat % this.beatsABar === 0;
  }
}
