/**
 * Settings of a part that are known already and heard from a line of the song on, as when a treatment waits for its turn.
 * What is changed otherwise meanwhile is heard at once, and no longer waits.
 */
import { slotsOf } from '../params/row.ts';
import { PART_ROWS } from '../params/tables.ts';
import type { ChannelFragment, PlanPatch, ValueChange } from './plan/fragments.ts';

type Owner = Pick<ValueChange, 'kind' | 'id'>;

export class WaitingChanges {
  /** Where they are heard, by the clock of the part, in ticks; Infinity when nothing waits. */
  atTicks = Infinity;
  private readonly values = new Map<string, ValueChange>();
  private readonly channels = new Map<string, ChannelFragment>();

  /** What comes while others wait is heard together with them. */
  add(atTicks: number, values: readonly ValueChange[], channels: readonly ChannelFragment[]): void {
    if (values.length === 0 && channels.length === 0) return;
    this.atTicks = Math.min(this.atTicks, atTicks);
    for (const change of values) this.values.set(nameOf(change), change);
    for (const fragment of channels) this.channels.set(fragment.id, fragment);
  }

  /** They no longer wait, for something newer has come. */
  drop(changes: readonly ValueChange[], channels: readonly ChannelFragment[] = []): void {
    if (this.atTicks === Infinity) return;
    for (const change of changes) this.values.delete(nameOf(change));
    for (const { id } of channels) this.channels.delete(id);
  }

  /** Of values that came whole those that wait stay as they were; what they bring is what waits. */
  holdBack(owner: Owner, before: Float64Array, values: Float64Array): void {
    if (this.values.size === 0) return;
    for (let slot = 0; slot < values.length; slot++) {
      const name = nameOf({ ...owner, slot });
      if (!this.values.has(name)) continue;
      this.values.set(name, { ...owner, slot, value: values[slot]! });
      values[slot] = before[slot]!;
    }
  }

  /** Gives all that waits, and waits for nothing. */
  take(): { values: ValueChange[]; channels: ChannelFragment[] } {
    const taken = { values: [...this.values.values()], channels: [...this.channels.values()] };
    this.values.clear();
    this.channels.clear();
    this.atTicks = Infinity;
    return taken;
  }
}

function nameOf({ kind, id, slot }: Owner & { slot: number }): string {
  return `${kind} ${id} ${slot}`;
}

const TRANSPOSE = slotsOf(PART_ROWS).transposeCents;

/**
 * Puts what a patch brings of values and known channels to what waits for a line, by the clock of the part and by that of
 * the song; gives the rest of the patch. A transposition is told to the part at once: stretched samples bring it with
 * them, whenever they are ready, and must know that it waits.
 */
export function letWait(
  patch: PlanPatch,
  part: { readonly waiting: WaitingChanges; awaitTransposition(cents: number, atTicks: number): void },
  { atTicks, songTicks }: { atTicks: number; songTicks: number },
  isKnown: (channelId: string) => boolean,
): PlanPatch {
  const isTransposition = ({ kind, slot }: ValueChange) => kind === 'part' && slot === TRANSPOSE;
  const values = patch.values.filter((change) => change.kind !== 'song' && !isTransposition(change));
  const channels = patch.channels.filter(({ id }) => isKnown(id));
  part.waiting.add(atTicks, values, channels);
  const cents = patch.values.find(isTransposition)?.value;
  if (cents !== undefined) part.awaitTransposition(cents, songTicks);
  return {
    ...patch,
    values: patch.values.filter(({ kind }) => kind === 'song'),
    channels: patch.channels.filter((one) => !channels.includes(one)),
  };
}
