/** What devices move in every project, under their names. */
import * as z from 'zod/mini';
import { id, listOf, name, whole } from '../document/records/basics.ts';
import { MAX_MACROS } from '../document/limits.ts';
import { mappingSource } from '../document/records/mappings.ts';
import { EFFECT_KINDS } from '../params/effects.ts';
import { HELPER_KINDS } from '../params/helpers.ts';
import { MAPPED_ACTIONS, MAPPING_ROWS } from '../params/mapping-rows.ts';
import { valuesSchema } from '../params/values-schema.ts';
import { DEVICE_VERSION, type DeviceHabits } from '../project/device-of.ts';
import { readBySchema, type RecordKind } from './record-kind.ts';

const owner = z.discriminatedUnion('of', [
  z.strictObject({ of: z.enum(['song', 'mix', 'part', 'channel', 'sounds', 'cut']) }),
  z.strictObject({ of: z.literal('effect'), kind: z.enum(EFFECT_KINDS) }),
  z.strictObject({ of: z.literal('helper'), kind: z.enum(HELPER_KINDS) }),
  z.strictObject({ of: z.literal('dial'), place: whole(0, MAX_MACROS - 1) }),
]);
const deviceSchema = z.strictObject({
  schemaVersion: z.literal(DEVICE_VERSION),
  // As the device says it, spaces at its ends and all.
  name: name.check(z.minLength(1)),
  mappings: listOf(
    z.strictObject({
      id,
      channel: z.nullable(whole(0, 15)),
      source: mappingSource,
      target: z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('setting'), owner, paramId: name }),
        z.strictObject({
          kind: z.literal('action'),
          does: z.enum(MAPPED_ACTIONS.map(({ value }) => value) as [string, ...string[]]),
        }),
      ]),
      values: valuesSchema(MAPPING_ROWS),
    }),
    512,
    1,
  ),
});

export interface DeviceFacts {
  /** All of it: what comes from the device asks for it at once. */
  habits: DeviceHabits;
}

export const DEVICE_KIND: RecordKind<DeviceHabits, DeviceFacts> = {
  what: 'device',
  version: DEVICE_VERSION,
  versionOf: (json) => (json as Partial<DeviceHabits>).schemaVersion,
  migrations: {},
  read: (json) => readBySchema('device', deviceSchema, json) as DeviceHabits,
  factsOf: (habits) => ({ habits }),
  sourceIdsOf: () => [],
};
