/** The doubles of all parts, and how they find their sounds and hits. */
import type { OwnerValues } from './control/owner-values.ts';
import type { StereoBus } from './mix/effects/effect.ts';
import { DoubleState } from './double-state.ts';
import type { PartFragment } from './plan/fragments.ts';
import type { ZoneState } from './zone-state.ts';

export class DoubleTable {
  private readonly byId = new Map<string, DoubleState<ZoneState>>();
  private all: readonly DoubleState<ZoneState>[] = [];

  constructor(private readonly sampleRate: number) {}

  ownerOf(id: string): OwnerValues | null {
    return this.byId.get(id)?.owner ?? null;
  }

  /** What sounds by itself is brought to where it is heard. */
  carry(count: number): void {
    for (let d = 0; d < this.all.length; d++) this.all[d]!.carry(count);
  }

  /** They find the channels that they are heard through. */
  lead(channelOf: (id: string) => StereoBus | undefined): void {
    for (const double of this.all) double.lead(channelOf);
  }

  /**
   * Follows parts and zones that have come, changed or gone.
   * @param changed parts whose doubles may be others
   */
  follow(
    parts: Iterable<{ readonly fragment: PartFragment }>,
    changed: readonly PartFragment[],
    zones: ReadonlyMap<string, ZoneState>,
  ): void {
    for (const zone of zones.values()) zone.double = null;
    const there = new Set<string>();
    for (const { fragment } of parts) {
      for (const one of fragment.doubles) {
        there.add(one.id);
        const known = this.byId.get(one.id);
        if (known && changed.includes(fragment)) known.take(one);
        const state = known ?? new DoubleState<ZoneState>(one, this.sampleRate);
        this.byId.set(one.id, state);
        state.bind(zones);
      }
    }
    for (const id of this.byId.keys()) if (!there.has(id)) this.byId.delete(id);
    this.all = [...this.byId.values()];
  }
}
