/** Opens kits from outside: schema and migrations. */
import * as z from 'zod/mini';
import { PART_ROWS } from '../params/tables.ts';
import { valuesSchema } from '../params/row.ts';
import { AppError } from '../units/errors.ts';
import type { Kit } from './kit-of.ts';
import { migrate } from './migrations/index.ts';
import { cut, modulator, route, SCHEMA_VERSION, sourceRef, zone } from './schema.ts';

export const kitSchema = z.strictObject({
  schemaVersion: z.literal(SCHEMA_VERSION),
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(200)),
  values: valuesSchema(PART_ROWS),
  sources: z.record(z.string(), sourceRef),
  cuts: z.array(cut).check(z.minLength(1), z.maxLength(256)),
  zones: z.array(zone).check(z.maxLength(4096)),
  modulators: z.array(modulator).check(z.maxLength(4096)),
  routes: z.array(route).check(z.maxLength(16_384)),
});

/**
 * Reads a kit of any known version.
 * @throws AppError `document.newer` or `document.invalid`
 */
export function openKit(json: unknown): Kit {
  const { schemaVersion, ...kit } = json as Kit;
  if (typeof schemaVersion !== 'number' || !Number.isInteger(schemaVersion) || schemaVersion < 4) {
    throw new AppError('document.invalid', 'this is not a kit: it has no schemaVersion');
  }
  if (schemaVersion > SCHEMA_VERSION) {
    const details = { version: schemaVersion, known: SCHEMA_VERSION };
    throw new AppError('document.newer', `the kit was made by a newer version (schema ${schemaVersion})`, details);
  }
  const current = migrate({ ...kit, schemaVersion }, schemaVersion, SCHEMA_VERSION);
  const parsed = kitSchema.safeParse(current);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new AppError('document.invalid', `${issue.path.join('.') || 'kit'}: ${issue.message}`);
  }
  return parsed.data as unknown as Kit;
}

export type { Kit } from './kit-of.ts';
