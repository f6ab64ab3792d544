/** What controllers of devices move: put on, taken off. */
import { MAPPED_ACTIONS } from '../../params/mapping-rows.ts';
import { ownRecord } from '../../document/changed-keys.ts';
import { rowsOfMapped } from '../../document/owners.ts';
import type { Mapping, MappingSource, MappingTarget } from '../../document/schema.ts';
import { isSameMapped, isSameMoved } from '../../queries/mappings.ts';
import { done, find, refused, type Command } from './command.ts';

/** More than this nobody has at hand. */
const MOST_MAPPINGS = 512;

export interface MapArgs {
  device: string;
  /** 0..15; null: any. */
  channel: number | null;
  source: MappingSource;
  target: MappingTarget;
  values?: Mapping['values'];
}

/** Lets a controller move a setting, or do something; it may move several. One that does so already is refused. */
export const addMapping: Command<MapArgs> = (document, { device, channel, source, target, values = {} }, env) => {
  if (target.kind === 'setting') {
    const rows = rowsOfMapped(document, target);
    if (!rows) return refused('this setting is gone');
    if (!ownRecord(rows, target.paramId)) return refused(`there is no setting "${target.paramId}" to move`);
  } else if (target.kind === 'part') {
    if (source.kind !== 'keys') return refused('a range of keys plays a part');
    if (!find(document.parts, target.id)) return refused('this part is gone');
  } else if (!MAPPED_ACTIONS.some(({ value }) => value === target.does))
    return refused('nothing is known by this name');
  else if (target.id !== null && !find(document.parts, target.id)) return refused('this part is gone');
  const all = Object.values(document.mappings);
  if (all.length >= MOST_MAPPINGS) return refused(`${MOST_MAPPINGS} are the most: take one off first`);
  const isKnown = (one: Mapping) =>
    one.device === device && isSameMoved(one.source, source) && isSameMapped(one.target, target);
  if (all.some(isKnown)) return refused('this controller does so already');
  const mapping: Mapping = { id: env.newId(), device, channel, source, target, values };
  return done({ ...document, mappings: { ...document.mappings, [mapping.id]: mapping } });
};

/** Another range of keys, or another distance from them to those of the part. */
export const setKeyRange: Command<{ mappingId: string; low?: number; high?: number; shiftKeys?: number }> = (
  document,
  { mappingId, low, high, shiftKeys },
) => {
  const mapping = find(document.mappings, mappingId);
  if (mapping?.source.kind !== 'keys' || mapping.target.kind !== 'part') return refused('this range of keys is gone');
  const within = (key: number) => Math.max(0, Math.min(127, Math.round(key)));
  const source = { ...mapping.source };
  // The other end goes along.
  if (low !== undefined) [source.low, source.high] = [within(low), Math.max(within(low), source.high)];
  if (high !== undefined) [source.low, source.high] = [Math.min(source.low, within(high)), within(high)];
  const shift = shiftKeys ?? mapping.target.shiftKeys;
  const target = { ...mapping.target, shiftKeys: Math.max(-127, Math.min(127, Math.round(shift))) };
  return done({ ...document, mappings: { ...document.mappings, [mappingId]: { ...mapping, source, target } } });
};

export const removeMapping: Command<{ mappingId: string }> = (document, { mappingId }) => {
  if (!find(document.mappings, mappingId)) return refused('this moves nothing any more already');
  const { [mappingId]: _gone, ...mappings } = document.mappings;
  return done({ ...document, mappings });
};
