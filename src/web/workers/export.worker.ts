/** Writes slices into one zip, or the source with its markers, away from the page. */
import { zipSync } from 'fflate';
import type { AudioData } from '#core/dsp/audio.ts';
import { zipSlices, type SliceFileOptions, type SliceToWrite, type SoundToWrite } from '#core/formats/export-slices.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import './fast-flac.ts';
import { serve } from './rpc.ts';

export type ExportRequest =
  | { kind: 'slices'; sounds: SoundToWrite[]; sourceName: string; options: SliceFileOptions }
  | { kind: 'source'; audio: AudioData; slices: SliceToWrite[]; loop: { startFrame: number; endFrame: number } | null }
  /** Puts finished files into one zip. */
  | { kind: 'pack'; files: { name: string; bytes: Uint8Array<ArrayBuffer> }[] };

/** A copy: what the page shares with its workers is not to be written to. */
function ownAudio({ sampleRate, channels }: AudioData): AudioData {
  return { sampleRate, channels: channels.map((channel) => channel.slice()) };
}

serve<ExportRequest>(async (request, job) => {
  if (request.kind === 'pack') {
    const entries = Object.fromEntries(request.files.map(({ name, bytes }) => [name, bytes]));
    // Sound does not shrink by packing: stored as it is, the zip is written at once.
    const zip = zipSync(entries, { level: 0 }) as Uint8Array<ArrayBuffer>;
    return { result: zip, transfer: [zip.buffer] };
  }
  if (request.kind === 'slices') {
    const sounds = request.sounds.map(({ audio, slices }) => ({ audio: ownAudio(audio), slices }));
    const zip = await zipSlices(sounds, request.sourceName, request.options, job.progress);
    return { result: zip, transfer: [zip.buffer] };
  }
  const audio = ownAudio(request.audio);
  const cues = request.slices.map(({ startFrame, name }) => ({ frame: startFrame, label: name }));
  const wav = writeWav(audio, { encoding: losslessEncoding(audio), cues, loop: request.loop ?? undefined });
  return { result: wav, transfer: [wav.buffer] };
});
