/** Schemas of the values of settings: for what checks documents. Apart from the table, which everything reads. */
import * as z from 'zod/mini';
import type { Row, Rows, SparseValues } from './row.ts';

/** The Zod schema of a single value. */
export function valueSchema(row: Row): z.ZodMiniType {
  if (row.kind === 'toggle') return z.boolean();
  if (row.kind === 'choice') return z.literal(row.choices.map(({ value }) => value));
  const range: z.core.$ZodCheck<number>[] = [z.gte(row.min), z.lte(row.max)];
  if (row.multipleOf !== undefined) range.push(z.multipleOf(row.multipleOf));
  return (row.isWhole ? z.int() : z.number()).check(...range);
}

/** The Zod schema of an owner's values as a document keeps them. */
export function valuesSchema<R extends Rows>(rows: R): z.ZodMiniType<SparseValues<R>> {
  const shape = Object.fromEntries(Object.entries(rows).map(([id, row]) => [id, z.optional(valueSchema(row))]));
  return z.strictObject(shape) as unknown as z.ZodMiniType<SparseValues<R>>;
}
