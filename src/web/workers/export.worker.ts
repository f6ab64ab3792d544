/** Writes slices into one zip, or the source with its markers, away from the page. */
import { zipSync } from 'fflate';
import type { AudioData } from '#core/dsp/audio.ts';
import { zipSlices, type SliceFileOptions, type SliceToWrite } from '#core/formats/export-slices.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { serve } from './rpc.ts';

export type ExportRequest =
  | { kind: 'slices'; audio: AudioData; slices: SliceToWrite[]; sourceName: string; options: SliceFileOptions }
  | { kind: 'source'; audio: AudioData; slices: SliceToWrite[]; loop: { startFrame: number; endFrame: number } | null }
  /** Puts finished files into one zip. */
  | { kind: 'pack'; files: { name: string; bytes: Uint8Array<ArrayBuffer> }[] };

serve<ExportRequest>(async (request, job) => {
  if (request.kind === 'pack') {
    const entries = Object.fromEntries(request.files.map(({ name, bytes }) => [name, bytes]));
    // Sound does not shrink by packing: stored as it is, the zip is written at once.
    const zip = zipSync(entries, { level: 0 }) as Uint8Array<ArrayBuffer>;
    return { result: zip, transfer: [zip.buffer] };
  }
  const audio: AudioData = {
    sampleRate: request.audio.sampleRate,
    channels: request.audio.channels.map((channel) => channel.slice()),
  };
  if (request.kind === 'slices') {
    const zip = await zipSlices(audio, request.slices, request.sourceName, request.options, job.progress);
    return { result: zip, transfer: [zip.buffer] };
  }
  const cues = request.slices.map(({ startFrame, name }) => ({ frame: startFrame, label: name }));
  const wav = writeWav(audio, { encoding: losslessEncoding(audio), cues, loop: request.loop ?? undefined });
  return { result: wav, transfer: [wav.buffer] };
});
