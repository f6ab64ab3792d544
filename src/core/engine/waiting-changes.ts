/**
 * Settings of a part that are known already and heard from a line of the song on, as when a treatment waits for its turn.
 * What is changed otherwise meanwhile is heard at once, and no longer waits.
 */
import { slotsOf } from '../params/row.ts';
import { PART_ROWS } from '../params/tables.ts';
import type { ChannelFragment, ModulatorFragment, PlanPatch, ValueChange } from './plan/fragments.ts';

type Owner = Pick<ValueChange, 'kind' | 'id'>;

/** What may wait. */
export interface Waiting {
  values: readonly ValueChange[];
  channels: readonly ChannelFragment[];
  modulators: readonly ModulatorFragment[];
}

export class WaitingChanges {
  /** Where they are heard, by the clock of the part, in ticks; Infinity when nothing waits. */
  atTicks = Infinity;
  private readonly values = new Map<string, ValueChange>();
  private readonly channels = new Map<string, ChannelFragment>();
  private readonly modulators = new Map<string, ModulatorFragment>();

  /** What comes while others wait is heard together with them. */
  add(atTicks: number, { values, channels, modulators }: Waiting): void {
    if (values.length === 0 && channels.length === 0 && modulators.length === 0) return;
    this.atTicks = Math.min(this.atTicks, atTicks);
    for (const change of values) this.values.set(nameOf(change), change);
    for (const fragment of channels) this.channels.set(fragment.id, fragment);
    for (const fragment of modulators) this.modulators.set(fragment.id, fragment);
  }

  /** They no longer wait, for something newer has come. */
  drop({ values, channels, modulators }: Waiting): void {
    if (this.atTicks === Infinity) return;
    for (const change of values) this.values.delete(nameOf(change));
    for (const { id } of channels) this.channels.delete(id);
    for (const { id } of modulators) this.modulators.delete(id);
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
  take(): Waiting {
    const taken = {
      values: [...this.values.values()],
      channels: [...this.channels.values()],
      modulators: [...this.modulators.values()],
    };
    for (const waiting of [this.values, this.channels, this.modulators]) waiting.clear();
    this.atTicks = Infinity;
    return taken;
  }
}

function nameOf({ kind, id, slot }: Owner & { slot: number }): string {
  return `${kind} ${id} ${slot}`;
}

const TRANSPOSE = slotsOf(PART_ROWS).transposeCents;

/**
 * Puts what a patch brings of values, known channels and known modulators to what waits for a line, by the clock of the part and by that of
 * the song; gives the rest of the patch. A transposition is told to the part at once: stretched samples bring it with
 * them, whenever they are ready, and must know that it waits.
 */
export function letWait(
  patch: PlanPatch,
  part: { readonly waiting: WaitingChanges; awaitTransposition(cents: number, atTicks: number): void },
  { atTicks, songTicks }: { atTicks: number; songTicks: number },
  isKnown: (kind: 'channel' | 'modulator', id: string) => boolean,
): PlanPatch {
  const isTransposition = ({ kind, slot }: ValueChange) => kind === 'part' && slot === TRANSPOSE;
  const values = patch.values.filter((change) => change.kind !== 'song' && !isTransposition(change));
  const channels = patch.channels.filter(({ id }) => isKnown('channel', id));
  const modulators = patch.modulators.filter(({ id }) => isKnown('modulator', id));
  part.waiting.add(atTicks, { values, channels, modulators });
  const cents = patch.values.find(isTransposition)?.value;
  if (cents !== undefined) part.awaitTransposition(cents, songTicks);
  return {
    ...patch,
    values: patch.values.filter(({ kind }) => kind === 'song'),
    channels: patch.channels.filter((one) => !channels.includes(one)),
    modulators: patch.modulators.filter((one) => !modulators.includes(one)),
  };
}
