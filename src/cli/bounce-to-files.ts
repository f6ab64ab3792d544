/** Renders a project into sound files, piece by piece: nothing of them is held. */
import { open, rename, rm, type FileHandle } from 'node:fs/promises';
import { MixMeter, type MixLevels } from '#core/analysis/loudness.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { bounceInto, type BounceOptions } from '#core/engine/bounce.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import type { StereoBus } from '#core/engine/mix/effects/effect.ts';
import { openAudioStream } from '#core/formats/audio-stream.ts';
import type { AudioStream, MixEncoding } from '#core/formats/encode.ts';
import { withValues } from '#core/params/row.ts';
import { SONG_ROWS } from '#core/params/tables.ts';
import type { ReadProject } from './read-project.ts';

export interface FilesWish extends Pick<BounceOptions, 'lengthTicks' | 'followsOrder' | 'ringOut' | 'stems'> {
  sampleRate: number;
  encoding: MixEncoding;
  /** Null: no file of the mix itself. */
  mixFile: string | null;
  /** As many as there are stems. */
  stemFiles?: readonly string[];
}

/** A file on its way, under another name until it is whole: nothing half is left behind. */
class WritingFile {
  /** Nothing has sounded in it yet. */
  isSilent = true;
  isGivenUp = false;

  private constructor(
    readonly file: string,
    private readonly handle: FileHandle,
    private readonly stream: AudioStream,
    private at: number,
  ) {}

  static async open(file: string, { sampleRate, encoding }: FilesWish): Promise<WritingFile> {
    const stream = await openAudioStream(sampleRate, 2, encoding);
    const handle = await open(`${file}.part`, 'w');
    return new WritingFile(file, handle, stream, HEAD_BYTES[encoding]);
  }

  async take({ left, right }: StereoBus): Promise<void> {
    this.isSilent &&= left.every((sample) => sample === 0) && right.every((sample) => sample === 0);
    await this.put(this.stream.write([left, right]));
  }

  private async put(bytes: Uint8Array): Promise<void> {
    await this.handle.write(bytes, 0, bytes.length, this.at);
    this.at += bytes.length;
  }

  async finish(): Promise<void> {
    const { head, rest } = this.stream.finish();
    await this.put(rest);
    await this.handle.write(head, 0, head.length, 0);
    await this.handle.close();
    await rename(`${this.file}.part`, this.file);
  }

  async giveUp(): Promise<void> {
    this.isGivenUp = true;
    await this.handle.close().catch(() => undefined);
    await rm(`${this.file}.part`, { force: true });
  }
}

/** So much is left for what a file begins with: WAV of integers and of floats, FLAC (see audio-stream.ts). */
const HEAD_BYTES: Record<MixEncoding, number> = {
  wav16: 44,
  wav24: 44,
  wav32: 58,
  flac16: 42,
  flac24: 42,
  mp3: 0,
  ogg: 0,
};
const STRETCHES = 100;

/** @returns how loud the mix is, and the files that were written */
export async function bounceToFiles(
  { assets }: ReadProject,
  document: ProjectDocument,
  wish: FilesWish,
): Promise<MixLevels & { written: string[] }> {
  const { sampleRate, mixFile, stemFiles = [] } = wish;
  const song = { ...document.song, values: withValues(SONG_ROWS, document.song.values, { clickOn: false }) };
  const heard = { ...document, song };
  const plan = compilePlan(heard, sampleRate, { assets, renderings: renderAll(heard, assets) });
  const names = [...(mixFile === null ? [] : [mixFile]), ...stemFiles];
  const files: WritingFile[] = [];
  const meter = new MixMeter(sampleRate, 2);
  let written: string[] = [];
  let shown = 0;
  try {
    for (const name of names) files.push(await WritingFile.open(name, wish));
    const onProgress = (share: number) => {
      if (share - shown >= 0.1) process.stderr.write(`${Math.round((shown = share) * 100)}%\n`);
      return true;
    };
    const { lengthTicks, followsOrder, ringOut, stems } = wish;
    const options = { lengthTicks, followsOrder, ringOut, stems, blockFrames: 4096, onProgress };
    await bounceInto(plan, options, async (mix, ofStems) => {
      meter.push([mix.left, mix.right]);
      const signals = [...(mixFile === null ? [] : [mix]), ...ofStems];
      for (const [place, signal] of signals.entries()) await files[place]!.take(signal);
    });
    const first = mixFile === null ? 0 : 1;
    for (const [place, file] of files.entries()) {
      // Drums that are never struck are no files.
      if (stems?.[place - first]?.only && file.isSilent) await file.giveUp();
      else await file.finish();
    }
    written = files.filter(({ isGivenUp }) => !isGivenUp).map(({ file }) => file);
  } catch (error) {
    for (const file of files) await file.giveUp();
    throw error;
  }
  return { ...meter.finish(STRETCHES), written };
}
