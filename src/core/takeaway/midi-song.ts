/** Patterns, or the whole running order, as the notes of a Standard MIDI File. */
import { isHome } from '../document/home-id.ts';
import type { Part, ProjectDocument } from '../document/schema.ts';
import { ownTempoBpm } from '../queries/loops.ts';
import type { NoteKeys } from '../queries/pattern-notes.ts';
import { songValues } from '../queries/values.ts';
import { heardRound } from './heard-notes.ts';
import { laneControls } from './lane-controllers.ts';
import { orderSong, trackOf, type SongToWrite, type Written } from './midi-order.ts';
import { patternToWrite } from './pattern-to-write.ts';

export interface MidiSettings {
  /** The running order where there is one, in place of what is said below but for the timing. */
  order: boolean;
  /** Part null: all parts, a track each. Pattern null: what it plays; hand null: what lies on the table. */
  partId: string | null;
  patternId: string | null;
  handId: string | null;
  /** With the part's swing, groove and feel; else as it is written. */
  asHeard: boolean;
  /** Keys of the part, or by agreement of drums, on the tenth channel. */
  keys?: NoteKeys;
  /** Lanes over the patterns as controllers. */
  withLanes?: boolean;
}

/** Parts whose patterns are written. */
export function midiParts({ parts, partOrder }: ProjectDocument, partId: string | null): Part[] {
  return (partId !== null && parts[partId] ? [partId] : partOrder).map((id) => parts[id]!);
}

/** The pattern of a part that is written, and the hand of it; another pattern than the one that plays is of one part. */
export function writtenTake({ patterns }: ProjectDocument, { id, activePatternId }: Part, settings: MidiSettings) {
  const isOwn = settings.partId === id && settings.patternId !== null;
  const isThere = isOwn && (isHome(settings.patternId!) || patterns[settings.patternId!]?.partId === id);
  const patternId = isThere ? settings.patternId! : activePatternId;
  const handId = isThere && patterns[patternId]?.hands[settings.handId ?? ''] ? settings.handId : null;
  return { patternId, handId };
}

export function takeName(document: ProjectDocument, part: Part, settings: MidiSettings): string {
  const { patternId, handId } = writtenTake(document, part, settings);
  const pattern = document.patterns[patternId];
  if (!pattern) return 'home';
  if (handId === null) return pattern.name;
  return pattern.hands[handId]!.name ?? `${pattern.name}, hand ${pattern.handOrder.indexOf(handId) + 1}`;
}

/** One round of a part's pattern. */
function takeOf(document: ProjectDocument, part: Part, settings: MidiSettings): Written & { without: number } {
  const { patternId, handId } = writtenTake(document, part, settings);
  const { starts, rounds, without } = patternToWrite(document, part, patternId, { ...settings, handId });
  const ownBpm = settings.asHeard ? ownTempoBpm(document, part) : null;
  const stretch = ownBpm === null ? 1 : songValues(document).tempoBpm / ownBpm;
  const notes = heardRound(starts, rounds).map(({ key, velocity, positionTicks, lengthTicks }) => ({
    key,
    velocity,
    positionTicks: positionTicks * stretch,
    lengthTicks: lengthTicks * stretch,
  }));
  const { lengthTicks } = rounds;
  return { notes, controls: settings.withLanes ? laneControls(document, patternId, lengthTicks) : [], without };
}

/** What is written, as notes: the running order, or patterns, where a marker names each kind that there is. */
export function midiSong(document: ProjectDocument, settings: MidiSettings): SongToWrite {
  if (settings.order && document.sectionOrder.length > 0) return orderSong(document, settings);
  const { tempoBpm, beatsPerBar } = songValues(document);
  const parts = midiParts(document, settings.partId);
  const names = [...new Set(parts.map((part) => takeName(document, part, settings)))];
  const takes = parts.map((part) => ({ part, take: takeOf(document, part, settings) }));
  return {
    tempoBpm,
    beatsPerBar,
    tracks: takes.map(({ part, take: { notes, controls } }) => trackOf(part, { notes, controls }, settings)),
    markers: names.map((name) => ({ positionTicks: 0, name })),
    without: takes.reduce((all, { take }) => all + take.without, 0),
  };
}
