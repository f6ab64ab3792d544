/** What the sounds of the chosen project are to keys: how long they last whatever the key does, how much higher they are. */
import { sourceFramesPerTick } from '#core/engine/plan/renderings.ts';
import { EVENT_ROWS } from '#core/params/tables.ts';
import type { PressedSound } from '#core/patterns/played.ts';
import type { ProjectDocument } from '#core/project/schema.ts';
import { zoneValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';

/** What a placed sound is to a key. */
export function pressedSound(
  document: ProjectDocument,
  { zone, at, cut, keys }: PlacedZone,
  key: number,
): PressedSound {
  const { answer, followsKey } = zoneValues(zone);
  const sounding = (at.endFrame - at.startFrame) / sourceFramesPerTick(document, cut);
  const { min, max } = EVENT_ROWS.tuneCents;
  return {
    wholeTicks: answer === 'one-shot' && zone.plays.kind === 'slice' ? sounding : null,
    tuneCents: followsKey && keys ? Math.max(min, Math.min(max, (key - keys.root) * 100)) : 0,
  };
}
