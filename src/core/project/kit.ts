/**
 * A kit: the zones of a part with their settings, their modulators and the cuts that they play, without the patterns and
 * the channel. It is kept on the shelf and loaded into parts of any project. As JSON it says which version it is of.
 */
import * as z from 'zod/mini';
import { PART_ROWS } from '../params/tables.ts';
import { valuesSchema } from '../params/row.ts';
import { AppError } from '../units/errors.ts';
import { migrate } from './migrations/index.ts';
import {
  cut,
  modulator,
  route,
  SCHEMA_VERSION,
  sourceRef,
  zone,
  type Cut,
  type Modulator,
  type Part,
  type ProjectDocument,
  type Route,
  type SourceRef,
  type Zone,
} from './schema.ts';

export interface Kit {
  schemaVersion: number;
  name: string;
  /** How the part answered: voices, one at a time, glide, its keys. */
  values: Part['values'];
  sources: Record<string, SourceRef>;
  cuts: Cut[];
  zones: Zone[];
  modulators: Modulator[];
  routes: Route[];
}

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

/** The kit of a part, under a name. */
export function kitOf(document: ProjectDocument, part: Part, name: string): Kit {
  const cuts = part.cutOrder.map((id) => document.cuts[id]!);
  const zones = part.zoneOrder.map((id) => document.zones[id]!);
  const owners = new Set([part.id, ...part.zoneOrder]);
  const modulators = Object.values(document.modulators).filter(({ ownerId }) => owners.has(ownerId));
  const ids = new Set(modulators.map(({ id }) => id));
  return {
    schemaVersion: SCHEMA_VERSION,
    name,
    values: part.values,
    sources: Object.fromEntries(cuts.map(({ sourceId }) => [sourceId, document.sources[sourceId]!])),
    cuts,
    zones,
    modulators,
    routes: Object.values(document.routes).filter(({ modulatorId }) => ids.has(modulatorId)),
  };
}

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
