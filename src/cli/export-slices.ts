/** Slices of the parts of a project as files: as they are cut or as they sound, one by one or all in one. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Part } from '#core/document/schema.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { bounce } from '#core/engine/bounce.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { encodeAudio, type AudioEncoding } from '#core/formats/encode.ts';
import { sliceAudio, sliceFileNames, slicesTogether, type SoundToWrite } from '#core/formats/export-slices.ts';
import { NamesOnce, safeFileName } from '#core/formats/file-names.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { soundingSlice } from '#core/takeaway/sounding-slices.ts';
import type { ReadProject } from './read-project.ts';

export interface SlicesWish {
  encoding: AudioEncoding;
  /** Each played once, with its settings, through its part's chain. */
  asSounding: boolean;
  /** One file a part, of stretches as long as the longest, with a marker each. */
  together: boolean;
  /** Names from fields: see SliceFileOptions. */
  namePattern: string;
}

const SOUNDING_RATE = 44_100;

/** @returns the files that were written, part by part */
export async function exportSlices(project: ReadProject, folder: string, wish: SlicesWish): Promise<string[]> {
  const files: string[] = [];
  const { encoding, together, namePattern } = wish;
  const names = new NamesOnce();
  const options = { encoding, together, namePattern, fadeInMs: 0, fadeOutMs: 2, mono: false, sampleRate: null };
  for (const partId of project.document.partOrder) {
    const part = project.document.parts[partId]!;
    const sounds = await soundsOf(project, part, wish);
    if (sounds.length === 0) continue;
    if (together) {
      const out = join(folder, names.take(`${safeFileName(part.name, 'slices')} in equal lengths`, '.wav'));
      await writeFile(out, await slicesTogether(sounds, options));
      files.push(out);
      continue;
    }
    const all = sounds.flatMap(({ audio, slices }) => slices.map((slice) => ({ audio, slice })));
    const written = all.map(({ slice }) => slice);
    for (const [place, name] of sliceFileNames(written, part.name, options, names).entries()) {
      const { audio, slice } = all[place]!;
      await writeFile(join(folder, name), await encodeAudio(sliceAudio(audio, slice, options), encoding));
      files.push(join(folder, name));
    }
  }
  return files;
}

async function soundsOf(
  { document, assets }: ReadProject,
  part: Part,
  { asSounding }: SlicesWish,
): Promise<SoundToWrite[]> {
  const sounds: SoundToWrite[] = [];
  for (const cutId of part.cutOrder) {
    const whole = assets.get(document.cuts[cutId]!.sourceId);
    if (!whole) continue;
    for (const { startFrame, endFrame, label, slice } of slicesOfCut(document, cutId)) {
      const named = { name: label, role: slice.role };
      if (!asSounding) {
        sounds.push({ audio: whole, slices: [{ ...named, startFrame, endFrame }] });
        continue;
      }
      const alone = soundingSlice(document, part, cutId, slice.id);
      if (!alone) continue;
      const inputs = { assets, renderings: renderAll(alone.document, assets) };
      const plan = compilePlan(alone.document, SOUNDING_RATE, inputs);
      const audio = await bounce(plan, { lengthTicks: alone.lengthTicks, ringOut: true });
      sounds.push({ audio, slices: [{ ...named, startFrame: 0, endFrame: frameCount(audio) }] });
    }
  }
  return sounds;
}
