/** Patterns, or the whole running order, as the notes of a Standard MIDI File. */
import { isHome } from '../document/home-id.ts';
import type { Part, ProjectDocument } from '../document/schema.ts';
import { DRUM_CHANNEL, type MidiControl, type MidiNote, type MidiSong, type MidiTrack } from '../formats/midi-file.ts';
import { orderLayout, turnsOf, type LaidSection } from '../order/layout.ts';
import { tempoStretches } from '../order/tempi.ts';
import { TempoMap } from '../order/tempo-map.ts';
import { partTiming } from '../queries/loops.ts';
import { patternNotes, type KeyNote, type NoteKeys } from '../queries/pattern-notes.ts';
import { patternLengthTicks } from '../queries/patterns.ts';
import { songValues } from '../queries/values.ts';
import { timedTicks } from '../strips/timing.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';
import { laneControls, sectionControls } from './lane-controllers.ts';

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

function takeNotes(document: ProjectDocument, part: Part, settings: MidiSettings): KeyNote[] {
  const { patternId, handId } = writtenTake(document, part, settings);
  const { notes } = patternNotes(document, part, patternId, handId, settings.keys);
  if (!settings.asHeard) return notes;
  const timing = partTiming(document, part);
  const length = patternLengthTicks(document, patternId);
  return notes
    .map((note) => {
      const ticks = timedTicks(note.positionTicks, timing, length);
      return { ...note, positionTicks: ((ticks % length) + length) % length };
    })
    .sort((a, b) => a.positionTicks - b.positionTicks || a.key - b.key);
}

/** What is written, as notes: the running order, or patterns, where a marker names each kind that there is. */
export function midiSong(document: ProjectDocument, settings: MidiSettings): MidiSong {
  if (settings.order && document.sectionOrder.length > 0) return orderSong(document, settings);
  const { tempoBpm, beatsPerBar } = songValues(document);
  const parts = midiParts(document, settings.partId);
  const names = [...new Set(parts.map((part) => takeName(document, part, settings)))];
  return {
    tempoBpm,
    beatsPerBar,
    tracks: parts.map((part) => {
      const { patternId } = writtenTake(document, part, settings);
      const controls = settings.withLanes
        ? laneControls(document, patternId, patternLengthTicks(document, patternId))
        : [];
      return trackOf(part, { notes: takeNotes(document, part, settings), controls }, settings);
    }),
    markers: names.map((name) => ({ positionTicks: 0, name })),
  };
}

type OrderWish = Pick<MidiSettings, 'asHeard' | 'keys' | 'withLanes'>;
type Written = { notes: MidiNote[]; controls: MidiControl[] };

function trackOf({ name }: Part, written: Written, { keys }: Pick<MidiSettings, 'keys'>): MidiTrack {
  return { name, ...written, ...(keys === 'drums' && { channel: DRUM_CHANNEL }) };
}

/** The running order: every part a track, sections as markers, tempo and metre; a way between tempi as a step a beat. */
export function orderSong(document: ProjectDocument, settings: OrderWish): MidiSong {
  const { sections } = orderLayout(document);
  const { tempoBpm } = songValues(document);
  const map = new TempoMap(tempoStretches(sections), 1);
  const tempos = sections.flatMap(({ startTicks, arriveTicks, tempoBpm: own }) => [
    ...Array.from({ length: Math.ceil(arriveTicks / TICKS_PER_BEAT) }, (_, beat) => {
      const from = startTicks + beat * TICKS_PER_BEAT;
      const until = Math.min(startTicks + arriveTicks, from + TICKS_PER_BEAT);
      // So that the beat lasts as long as it does on the way.
      const seconds = map.framesAt(until) - map.framesAt(from);
      return { positionTicks: from, tempoBpm: ((until - from) / TICKS_PER_BEAT / seconds) * 60 };
    }),
    { positionTicks: startTicks + arriveTicks, tempoBpm: own },
  ]);
  return {
    tempoBpm: tempos[0]?.tempoBpm ?? tempoBpm,
    beatsPerBar: sections[0]?.beatsPerBar ?? null,
    tempos: tempos.filter(({ tempoBpm: own }, place) => place === 0 || own !== tempos[place - 1]!.tempoBpm),
    metres: sections
      .filter(({ beatsPerBar }, place) => place === 0 || beatsPerBar !== sections[place - 1]!.beatsPerBar)
      .map(({ startTicks, beatsPerBar }) => ({ positionTicks: startTicks, beatsPerBar })),
    tracks: orderTracks(document, sections, settings),
    markers: sections.map(({ section, startTicks }) => ({ positionTicks: startTicks, name: section.name })),
  };
}

/** Every part a track; what moves the mix, buses and dials one of its own. */
function orderTracks(document: ProjectDocument, sections: readonly LaidSection[], settings: OrderWish): MidiTrack[] {
  const overSections = (part: Part | null) => (settings.withLanes ? sectionControls(document, sections, part) : []);
  const ofParts = document.partOrder.map((partId) => {
    const part = document.parts[partId]!;
    const all = sections.map((section) => sectionTurns(document, part, section, settings));
    const notes = all.flatMap((one) => one.notes);
    const controls = [...all.flatMap((one) => one.controls), ...overSections(part)];
    return trackOf(part, { notes, controls: controls.sort((a, b) => a.positionTicks - b.positionTicks) }, settings);
  });
  const controls = overSections(null);
  return controls.length > 0 ? [...ofParts, { name: 'mix', notes: [], controls }] : ofParts;
}

function sectionTurns(document: ProjectDocument, part: Part, laid: LaidSection, wish: OrderWish): Written {
  const { section, startTicks, roundTicks, repeats } = laid;
  const found: Written = { notes: [], controls: [] };
  for (let round = 0; round < repeats; round++) {
    const turns = turnsOf(section.placings, part.id, roundTicks, round === repeats - 1);
    const from = startTicks + round * roundTicks;
    for (const [place, { startTicks: at, patternId }] of turns.entries()) {
      const forTicks = (turns[place + 1]?.startTicks ?? roundTicks) - at;
      if (patternId === '') continue;
      found.notes.push(...turnNotes(document, part, patternId, from + at, forTicks, wish));
      if (!wish.withLanes) continue;
      const controls = laneControls(document, patternId, forTicks);
      found.controls.push(...controls.map((one) => ({ ...one, positionTicks: one.positionTicks + from + at })));
    }
  }
  return found;
}

/** A pattern round after round, from a position on, for so long. */
function turnNotes(
  document: ProjectDocument,
  part: Part,
  patternId: string,
  fromTicks: number,
  forTicks: number,
  { asHeard, keys }: OrderWish,
): MidiNote[] {
  const length = patternLengthTicks(document, patternId);
  const timing = partTiming(document, part);
  const { notes } = patternNotes(document, part, patternId, null, keys);
  const found: MidiNote[] = [];
  for (let roundTicks = 0; roundTicks < forTicks; roundTicks += length) {
    for (const note of notes) {
      const at = roundTicks + (asHeard ? timedTicks(note.positionTicks, timing, length) : note.positionTicks);
      if (at >= forTicks) continue;
      const lengthTicks = Math.min(note.lengthTicks, forTicks - at);
      found.push({ ...note, positionTicks: fromTicks + Math.max(0, at), lengthTicks });
    }
  }
  return found;
}
