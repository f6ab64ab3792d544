/** Kits: the zones of a part with their settings and sounds. */
import * as z from 'zod/mini';
import { PART_ROWS } from '../params/tables.ts';
import { valuesSchema } from '../params/values-schema.ts';
import { addKit } from '../project/commands/kits.ts';
import { emptyDocument } from '../document/defaults.ts';
import { KIT_VERSION, type Kit } from '../project/kit-of.ts';
import { kitFrom4 } from '../document/migrations/from-4.ts';
import { cut, modulator, route, sourceRef, zone } from '../document/schema.ts';
import { problemOfChange } from '../document/validate.ts';
import { AppError } from '../units/errors.ts';
import { readBySchema, type RecordKind } from './record-kind.ts';

const kitSchema = z.strictObject({
  schemaVersion: z.literal(KIT_VERSION),
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(200)),
  values: valuesSchema(PART_ROWS),
  sources: z.record(z.string(), sourceRef),
  cuts: z.array(cut).check(z.minLength(1), z.maxLength(256)),
  zones: z.array(zone).check(z.maxLength(4096)),
  modulators: z.array(modulator).check(z.maxLength(4096)),
  routes: z.array(route).check(z.maxLength(16_384)),
});

export interface KitFacts {
  /** Sounds on its keys. */
  soundCount: number;
}

export const KIT_KIND: RecordKind<Kit, KitFacts> = {
  what: 'kit',
  version: KIT_VERSION,
  versionOf: (json) => (json as Partial<Kit>).schemaVersion,
  migrations: { 4: kitFrom4 },
  read(json) {
    const kit = readBySchema('kit', kitSchema, json) as unknown as Kit;
    const problem = problemOf(kit);
    if (problem !== null) throw new AppError('document.invalid', `this kit is not sound: ${problem}`);
    return kit;
  },
  factsOf: ({ zones }) => ({
    soundCount: zones.filter(({ laid, keys }) => laid === 'itself' || keys !== null).length,
  }),
  sourceIdsOf: ({ sources }) => Object.keys(sources),
};

/** A kit is sound when a project is that has it: what its records say of each other holds there, or nowhere. */
function problemOf(kit: Kit): string | null {
  const empty = emptyDocument('empty', 'empty');
  let count = 0;
  const ids = [...kit.cuts, ...kit.zones, ...kit.modulators, ...kit.routes].map(({ id }) => id);
  if (new Set(ids).size < ids.length) return 'two of its records have one id';
  if (Object.entries(kit.sources).some(([id, source]) => source.id !== id)) return 'a sound stands under another id';
  const owners = new Set([...kit.zones.map(({ id }) => id), ...kit.cuts.map(({ partId }) => partId)]);
  if (kit.modulators.some(({ ownerId }) => !owners.has(ownerId))) return 'a modulator belongs to nothing in it';
  const movers = new Set(kit.modulators.map(({ id }) => id));
  if (kit.routes.some(({ modulatorId }) => !movers.has(modulatorId))) return 'a route comes from nothing in it';
  const result = addKit(empty, { kit }, { newId: () => `new-${++count}`, newSeed: () => 1 });
  return result.ok ? problemOfChange(empty, result.document) : result.reason;
}
