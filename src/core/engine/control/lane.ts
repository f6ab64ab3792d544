/** Where the course of a lane is at a position. Walked from control step to control step; allocates nothing. */
import { bent } from '../../dsp/bend.ts';
import type { LaneFragment } from '../plan/fragments.ts';

export class Lane {
  /** 0..1 */
  value = 0;
  /** By how much it has stepped since the last look, where its course has a step. */
  jumpedBy = 0;
  /** It was elsewhere before: another course, another position, or none. */
  isAnew = true;
  /** Its pattern plays, and it is on. */
  isActive = false;
  /** The last point at or before the position; -1 before the first. */
  private place = -1;
  private lastTicks = 0;

  constructor(private fragment: LaneFragment) {}

  take(fragment: LaneFragment): void {
    const before = this.fragment;
    this.fragment = fragment;
    const isSame =
      before.lengthTicks === fragment.lengthTicks &&
      isSameColumn(before.positionTicks, fragment.positionTicks) &&
      isSameColumn(before.values, fragment.values) &&
      isSameColumn(before.bends, fragment.bends) &&
      isSameColumn(before.stays, fragment.stays);
    if (!isSame) this.isAnew = true;
  }

  /**
   * Looks where it is.
   * @param ticks since its pattern's first round began; NaN: where it was
   * @param patternTicks length of its pattern
   */
  look(ticks: number, patternTicks: number, isOn: boolean): void {
    this.jumpedBy = 0;
    if (this.isActive !== isOn) this.isAnew = true;
    this.isActive = isOn;
    if (!isOn) return;
    const lengthTicks = this.fragment.lengthTicks || patternTicks;
    const inRound = (Number.isNaN(ticks) ? this.lastTicks : ticks) % lengthTicks;
    const at = inRound < 0 ? inRound + lengthTicks : inRound;
    if (this.isAnew) this.place = this.placeAt(at);
    else if (at < this.lastTicks) this.goRound(at, lengthTicks);
    else this.walkTo(at);
    this.lastTicks = at;
    this.value = this.valueAt(at);
  }

  /** The last place at or before a position (binary search). */
  private placeAt(ticks: number): number {
    const { positionTicks } = this.fragment;
    let low = 0;
    let high = positionTicks.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (positionTicks[middle]! <= ticks) low = middle + 1;
      else high = middle;
    }
    return low - 1;
  }

  private walkTo(ticks: number): void {
    const { positionTicks, values, stays } = this.fragment;
    for (let next = this.place + 1; next < positionTicks.length && positionTicks[next]! <= ticks; next++) {
      const isStep = next > 0 && (stays[next - 1] === 1 || positionTicks[next] === positionTicks[next - 1]);
      if (isStep) this.jumpedBy += values[next]! - values[next - 1]!;
      this.place = next;
    }
  }

  private goRound(ticks: number, lengthTicks: number): void {
    this.walkTo(lengthTicks);
    const end = this.valueAt(lengthTicks);
    this.place = -1;
    this.walkTo(0);
    this.jumpedBy += this.valueAt(0) - end;
    this.walkTo(ticks);
  }

  private valueAt(ticks: number): number {
    const { positionTicks, values, bends, stays } = this.fragment;
    const { place } = this;
    if (place < 0) return values[0]!;
    const from = values[place]!;
    if (place === values.length - 1 || stays[place] === 1) return from;
    const gone = (ticks - positionTicks[place]!) / (positionTicks[place + 1]! - positionTicks[place]!);
    return from + (values[place + 1]! - from) * bent(gone, bends[place]!);
  }
}

function isSameColumn(one: Float64Array | Uint8Array, other: Float64Array | Uint8Array): boolean {
  return one.length === other.length && one.every((value, place) => value === other[place]);
}
