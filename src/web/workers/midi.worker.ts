/** Reads MIDI files away from the page: one of thousands of notes takes a while. */
import { readMidiFile } from '#core/formats/midi-file.ts';
import { serve } from './rpc.ts';

export interface MidiRequest {
  bytes: Uint8Array<ArrayBuffer>;
}

serve<MidiRequest>(({ bytes }) => Promise.resolve({ result: readMidiFile(bytes) }));
