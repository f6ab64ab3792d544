/** What taking away patterns, or the running order, as MIDI will give. Pure. */
import { safeFileName } from '#core/formats/file-names.ts';
import { orderLayout } from '#core/order/layout.ts';
import { orderSeconds } from '#core/order/seconds.ts';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { songValues } from '#core/queries/values.ts';
import type { SongToWrite } from '#core/takeaway/midi-order.ts';
import { midiParts, takeName, writtenTake, type MidiSettings } from '#core/takeaway/midi-song.ts';
import { framesPerTick } from '#core/units/time.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import type { RowSummary } from './row-summary.ts';

/** Bytes of a note's start and end, of a track's head and end, about. */
const NOTE_BYTES = 9;
const TRACK_BYTES = 30;

/** What of it there is no key for. */
const lacking = ({ without }: SongToWrite): Pick<RowSummary, 'lacks'> =>
  without === 0 ? {} : { lacks: `${without === 1 ? '1 strip has' : `${without} strips have`} no key there: left out` };

export function midiRow(document: ProjectDocument, settings: MidiSettings, song: SongToWrite): RowSummary {
  if (settings.order && document.sectionOrder.length > 0) return orderMidiRow(document, song);
  const parts = midiParts(document, settings.partId);
  const [only, ...others] = parts;
  const words = only && others.length === 0 ? `${only.name} - ${takeName(document, only, settings)}` : document.name;
  const notes = song.tracks.reduce((sum, track) => sum + track.notes.length, 0);
  const ticks = Math.max(
    0,
    ...parts.map((part) => patternLengthTicks(document, writtenTake(document, part, settings).patternId)),
  );
  return {
    fileName: `${safeFileName(words, 'pattern')}.mid`,
    files: 1,
    seconds: ticks * framesPerTick(songValues(document).tempoBpm, 1),
    bytes: notes * NOTE_BYTES + (parts.length + 1) * TRACK_BYTES,
    isAbout: true,
    problem: notes === 0 ? 'none of these sounds lies on a key' : null,
    ...lacking(song),
  };
}

function orderMidiRow(document: ProjectDocument, song: SongToWrite): RowSummary {
  const notes = song.tracks.reduce((sum, track) => sum + track.notes.length, 0);
  return {
    fileName: `${safeFileName(document.name, 'song')}.mid`,
    files: 1,
    seconds: orderSeconds(orderLayout(document)),
    bytes: notes * NOTE_BYTES + (song.tracks.length + 1) * TRACK_BYTES,
    isAbout: true,
    problem: notes === 0 ? 'none of these sounds lies on a key' : null,
    ...lacking(song),
  };
}
