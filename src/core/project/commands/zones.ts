/** Zones: which keys play them. */
import type { KeyRange, Zone } from '../schema.ts';
import { done, find, refused, type Command } from './command.ts';

/** Puts a zone on keys by hand, where it stays whatever happens to the cut; null takes it off its keys. */
export const layZone: Command<{ zoneId: string; keys: KeyRange | null }> = (document, { zoneId, keys }) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  if (keys && !(keys.low >= 0 && keys.low <= keys.high && keys.high <= 127))
    return refused('keys go from 0 to 127, upwards');
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, laid: 'hand', keys } } });
};

/** Lets a zone lay itself again: on the key that follows from its slice's place. */
export const layItself: Command<{ zoneId: string }> = (document, { zoneId }) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  return done({ ...document, zones: { ...document.zones, [zoneId]: { ...zone, laid: 'itself', keys: null } } });
};

/** The same slice once more, on keys of its own and with settings of its own. */
export const copyZone: Command<{ zoneId: string; keys: KeyRange | null }> = (document, { zoneId, keys }, env) => {
  const zone = find(document.zones, zoneId);
  if (!zone) return refused('this zone is gone');
  const copy: Zone = { ...zone, id: env.newId(), laid: 'hand', keys };
  const part = document.parts[zone.partId]!;
  return done({
    ...document,
    zones: { ...document.zones, [copy.id]: copy },
    parts: { ...document.parts, [part.id]: { ...part, zoneOrder: [...part.zoneOrder, copy.id] } },
  });
};
