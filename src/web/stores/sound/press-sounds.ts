/** What the sounds of the chosen project are to keys: how long they last whatever the key does, how much higher they are. */
import { sourceFramesPerTick } from '#core/queries/following.ts';
import { EVENT_ROWS } from '#core/params/tables.ts';
import type { PressedSound } from '#core/patterns/played.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { zoneValues } from '#core/queries/values.ts';
import { zonesOfPart, zonesOnKey, type PlacedZone } from '#core/queries/zones.ts';

/** What a placed sound is to a key. */
export function pressedSound(
  document: ProjectDocument,
  { zone, at, cut, keys }: PlacedZone,
  key: number,
): PressedSound {
  const { followsKey } = zoneValues(zone);
  const all = zonesOfPart(document, document.parts[zone.partId]!);
  const isWhole = zonesOnKey(all, key).every(
    (one) => zoneValues(one.zone).answer === 'one-shot' && one.zone.plays.kind === 'slice',
  );
  const sounding = (at.endFrame - at.startFrame) / sourceFramesPerTick(document, cut, at);
  const { min, max } = EVENT_ROWS.tuneCents;
  return {
    // Where one of the layers ends with its key, how long that was held counts.
    wholeTicks: isWhole ? sounding : null,
    tuneCents: followsKey && keys ? Math.max(min, Math.min(max, (key - keys.root) * 100)) : 0,
  };
}
