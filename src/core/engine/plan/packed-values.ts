/** Settings of owners as numbers, each owner known by kind and id; what has changed of one goes into the patch. */
import { packValues, type Rows } from '../../params/row.ts';
import type { PlanPatch, ValueChange } from './fragments.ts';

type Owner = Pick<ValueChange, 'kind' | 'id'>;

export class PackedValues {
  private readonly known = new Map<string, { sparse: object; packed: Float64Array }>();

  /** In the order of the rows. @param sparse what differs from the rows' own values */
  of(owner: Owner, rows: Rows, sparse: object, patch: PlanPatch): Float64Array {
    const name = nameOf(owner);
    const known = this.known.get(name);
    if (known?.sparse === sparse) return known.packed;
    const packed = packValues(rows, sparse);
    if (known) {
      for (let slot = 0; slot < packed.length; slot++) {
        if (packed[slot] !== known.packed[slot]) patch.values.push({ ...owner, slot, value: packed[slot]! });
      }
    }
    this.known.set(name, { sparse, packed });
    return packed;
  }

  /** An owner that is gone. */
  forget(owner: Owner): void {
    this.known.delete(nameOf(owner));
  }
}

function nameOf({ kind, id }: Owner): string {
  return `${kind} ${id}`;
}
