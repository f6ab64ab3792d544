/** All kinds of named things on the shelf. A new one is a file beside this and a line here. */
import { CHAIN_KIND } from './chain.ts';
import { DEVICE_KIND } from './device.ts';
import { GROOVE_KIND } from './groove.ts';
import { KIT_KIND } from './kit.ts';
import type { RecordKind } from './record-kind.ts';

export const RECORD_KINDS = { kit: KIT_KIND, groove: GROOVE_KIND, chain: CHAIN_KIND, device: DEVICE_KIND };
export type RecordKindName = keyof typeof RECORD_KINDS;

type OfKind<Name extends RecordKindName> =
  (typeof RECORD_KINDS)[Name] extends RecordKind<infer T, infer Facts> ? { record: T; facts: Facts } : never;
export type RecordOf<Name extends RecordKindName> = OfKind<Name>['record'];
export type FactsOf<Name extends RecordKindName> = OfKind<Name>['facts'];
