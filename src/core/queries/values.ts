/** All values of an owner, defaults put in. */
import { fullValues } from '../params/row.ts';
import {
  CHANNEL_ROWS,
  CUT_ROWS,
  EVENT_ROWS,
  PART_ROWS,
  SONG_ROWS,
  ZONE_ROWS,
  type ChannelValues,
  type CutValues,
  type EventValues,
  type PartValues,
  type SongValues,
  type ZoneValues,
} from '../params/tables.ts';
import type { Channel, Cut, Part, PatternEvent, ProjectDocument, Zone } from '../document/schema.ts';

export function songValues(document: Pick<ProjectDocument, 'song'>): SongValues {
  return fullValues(SONG_ROWS, document.song.values);
}
export function partValues(part: Pick<Part, 'values'>): PartValues {
  return fullValues(PART_ROWS, part.values);
}
export function cutValues(cut: Pick<Cut, 'values'>): CutValues {
  return fullValues(CUT_ROWS, cut.values);
}
export function zoneValues(zone: Pick<Zone, 'values'>): ZoneValues {
  return fullValues(ZONE_ROWS, zone.values);
}
export function channelValues(channel: Pick<Channel, 'values'>): ChannelValues {
  return fullValues(CHANNEL_ROWS, channel.values);
}
export function eventValues(event: Pick<PatternEvent, 'values'>): EventValues {
  return fullValues(EVENT_ROWS, event.values);
}
