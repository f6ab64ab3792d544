/** The running order as the notes of a Standard MIDI File: sections, tempi and metres, and what each part plays in them. */
import type { Part, ProjectDocument } from '../document/schema.ts';
import { DRUM_CHANNEL, type MidiControl, type MidiNote, type MidiSong, type MidiTrack } from '../formats/midi-file.ts';
import { orderLayout, turnsOf, type LaidSection } from '../order/layout.ts';
import { tempoStretches } from '../order/tempi.ts';
import { TempoMap } from '../order/tempo-map.ts';
import { ownTempoBpm } from '../queries/loops.ts';
import type { KeyNote, NoteKeys } from '../queries/pattern-notes.ts';
import { patternLengthTicks } from '../queries/patterns.ts';
import { partValues, songValues } from '../queries/values.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';
import { heardNotes, type Stretch } from './heard-notes.ts';
import { laneControls, sectionControls } from './lane-controllers.ts';
import { patternToWrite } from './pattern-to-write.ts';

/** What is cut off sooner would begin on the tick on which it ends. */
const LEAST_TICKS = 0.5;

export interface OrderWish {
  asHeard: boolean;
  keys?: NoteKeys;
  withLanes?: boolean;
}
/** With the strips that are left out, for their sounds lie on no key there: each once, however often it is played. */
export interface SongToWrite extends MidiSong {
  without: number;
}
export interface Written {
  notes: MidiNote[];
  controls: MidiControl[];
}

export function trackOf({ name }: Part, written: Written, { keys }: Pick<OrderWish, 'keys'>): MidiTrack {
  return { name, ...written, ...(keys === 'drums' && { channel: DRUM_CHANNEL }) };
}

/** The running order: every part a track, sections as markers, tempo and metre; a way between tempi as a step a beat. */
export function orderSong(document: ProjectDocument, settings: OrderWish): SongToWrite {
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
    ...orderTracks(document, sections, map, settings),
    markers: sections.map(({ section, startTicks }) => ({ positionTicks: startTicks, name: section.name })),
  };
}

/** Every part a track; what moves the mix, buses and dials one of its own. */
function orderTracks(
  document: ProjectDocument,
  sections: readonly LaidSection[],
  map: TempoMap,
  wish: OrderWish,
): Pick<SongToWrite, 'tracks' | 'without'> {
  let without = 0;
  const overSections = (part: Part | null) => (wish.withLanes ? sectionControls(document, sections, part) : []);
  const ofParts = document.partOrder.map((partId) => {
    const part = document.parts[partId]!;
    const { notes, controls, without: strips } = turnsToWrite(document, part, sections, map, wish);
    without += strips;
    const all = [...controls, ...overSections(part)].sort((a, b) => a.positionTicks - b.positionTicks);
    return trackOf(part, { notes, controls: all }, wish);
  });
  const controls = overSections(null);
  return { tracks: controls.length > 0 ? [...ofParts, { name: 'mix', notes: [], controls }] : ofParts, without };
}

/** What a part plays all along the sections. */
function turnsToWrite(
  document: ProjectDocument,
  part: Part,
  sections: readonly LaidSection[],
  map: TempoMap,
  wish: OrderWish,
): Written & Pick<SongToWrite, 'without'> {
  const found: Written = { notes: [], controls: [] };
  const patterns = new Map<string, ReturnType<typeof patternToWrite>>();
  const ownBpm = wish.asHeard ? ownTempoBpm(document, part) : null;
  const ringsOver = wish.asHeard && partValues(part).ringOver;
  let playing = { patternId: '', anchorTicks: 0 };
  for (const { patternId, fromTicks, untilTicks } of turnsInSong(part, sections)) {
    if (patternId === '') {
      playing = { patternId, anchorTicks: fromTicks };
      continue;
    }
    // It goes on where it was if it comes to its beginning there, as it does for the engine.
    const lengthTicks = patternLengthTicks(document, patternId);
    const goesOn = patternId === playing.patternId && (fromTicks - playing.anchorTicks) % lengthTicks === 0;
    if (!goesOn) playing = { patternId, anchorTicks: fromTicks };
    const pattern = patterns.get(patternId) ?? patternToWrite(document, part, patternId, wish);
    patterns.set(patternId, pattern);
    const { starts, rounds } = pattern;
    const isBeginning = !goesOn;
    const stretch = { fromTicks, untilTicks, anchorTicks: playing.anchorTicks, isBeginning };
    const notesIn = (one: Stretch) => heardNotes(starts, rounds, one);
    const notes = ownBpm === null ? notesIn(stretch) : inOwnTempo(notesIn, map, ownBpm, stretch);
    found.notes.push(...(ringsOver ? notes : endingAt(untilTicks, notes)));
    if (!wish.withLanes) continue;
    const controls = laneControls(document, patternId, untilTicks - fromTicks);
    found.controls.push(...controls.map((one) => ({ ...one, positionTicks: one.positionTicks + fromTicks })));
  }
  return { ...found, without: [...patterns.values()].reduce((all, one) => all + one.without, 0) };
}

/** What is played ends where the next turn begins; of what begins right before it nothing is heard. */
function endingAt(untilTicks: number, notes: readonly KeyNote[]): KeyNote[] {
  return notes
    .filter(({ positionTicks }) => positionTicks < untilTicks - LEAST_TICKS)
    .map((note) => ({ ...note, lengthTicks: Math.min(note.lengthTicks, untilTicks - note.positionTicks) }));
}

/** One after the other, from the song's beginning to its end without a gap. */
function* turnsInSong(
  part: Part,
  sections: readonly LaidSection[],
): Iterable<{ patternId: string; fromTicks: number; untilTicks: number }> {
  for (const { section, startTicks, roundTicks, repeats } of sections) {
    for (let round = 0; round < repeats; round++) {
      const turns = turnsOf(section.placings, part.id, roundTicks, round === repeats - 1);
      const from = startTicks + round * roundTicks;
      for (const [place, { startTicks: at, patternId }] of turns.entries()) {
        const until = turns[place + 1]?.startTicks ?? roundTicks;
        yield { patternId, fromTicks: from + at, untilTicks: from + until };
      }
    }
  }
}

/**
 * A part that keeps a tempo of its own begins anew with each turn.
 * @param map of the song, in seconds
 * @returns its notes where the song is when they are heard
 */
function inOwnTempo(
  notesIn: (stretch: Stretch) => KeyNote[],
  map: TempoMap,
  ownBpm: number,
  { fromTicks, untilTicks }: Stretch,
): KeyNote[] {
  const secondsPerTick = 60 / ownBpm / TICKS_PER_BEAT;
  const begin = map.framesAt(fromTicks);
  const lasts = (map.framesAt(untilTicks) - begin) / secondsPerTick;
  const inSong = (ticks: number) => map.ticksAt(begin + ticks * secondsPerTick);
  return notesIn({ fromTicks: 0, untilTicks: lasts, anchorTicks: 0, isBeginning: true }).map((note) => {
    const positionTicks = inSong(note.positionTicks);
    const lengthTicks = inSong(note.positionTicks + note.lengthTicks) - positionTicks;
    return { ...note, positionTicks, lengthTicks };
  });
}
