/** What controllers, keys and pads of devices move and do. */
import * as z from 'zod/mini';
import { MAPPED_ACTIONS, MAPPING_ROWS } from '../../params/mapping-rows.ts';
import { valuesSchema } from '../../params/values-schema.ts';
import { id, key, name, whole } from './basics.ts';

/** What is moved on a device. */
export const mappingSource = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('control'), number: whole(0, 127) }),
  z.strictObject({ kind: z.literal('key'), number: key }),
  z.strictObject({ kind: z.literal('bend') }),
  z.strictObject({ kind: z.literal('pressure') }),
  /** A range of its keys. */
  z
    .strictObject({ kind: z.literal('keys'), low: key, high: key })
    .check(z.refine(({ low, high }) => low <= high, 'a range of keys goes upwards')),
]);
export type MappingSource = z.infer<typeof mappingSource>;

/** Whose settings may be moved: all but those of events. */
export const MAPPED_OWNERS = [
  'song',
  'part',
  'cut',
  'zone',
  'sounds',
  'channel',
  'send',
  'effect',
  'modulator',
  'route',
  'helper',
  'double',
] as const;

export const mapping = z.strictObject({
  id,
  /** Name of the device: the ids of its ports change. */
  device: name,
  /** 0..15; null: any. */
  channel: z.nullable(whole(0, 15)),
  source: mappingSource,
  target: z.discriminatedUnion('kind', [
    /** A setting, of the record of this id; `sounds`: of all sounds of the part; of the song null. */
    z.strictObject({ kind: z.literal('setting'), owner: z.enum(MAPPED_OWNERS), id: z.nullable(id), paramId: name }),
    /** Of a part; null: of the one that is chosen. */
    z.strictObject({
      kind: z.literal('action'),
      does: z.enum(MAPPED_ACTIONS.map(({ value }) => value) as [string, ...string[]]),
      id: z.nullable(id),
    }),
    /** Plays the keys of a part, so many higher. */
    z.strictObject({ kind: z.literal('part'), id, shiftKeys: whole(-127, 127) }),
  ]),
  values: valuesSchema(MAPPING_ROWS),
});
export type Mapping = z.infer<typeof mapping>;
export type MappingTarget = Mapping['target'];
