/** What server and page say to each other about named things on the shelf. */
import { z } from 'zod';
import type { FactsOf, RecordKindName } from '../shelf/kinds.ts';

/** One of a list, without what it holds. */
export interface ShelfItem<Name extends RecordKindName = RecordKindName> {
  id: string;
  name: string;
  createdAt: number;
  facts: FactsOf<Name>;
}

const kindNames = ['kit', 'groove', 'chain', 'device'] as const satisfies readonly RecordKindName[];
export const recordKind = z.enum(kindNames);
export const recordId = z.string().regex(/^[\w-]{1,64}$/);
export const recordName = z.strictObject({ name: z.string().trim().min(1).max(200) });
