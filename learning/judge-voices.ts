/**
 * How voices are cut, by all that the application does: `npx tsx learning/judge-voices.ts FOLDER`, of phrases that `sung.py`
 * made. A syllable is found where a marker lies from shortly before its first sound until its vowel has begun; further ones in
 * it, and all others but where the voice itself was put together in the middle of a vowel, are phantoms.
 */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { DEFAULT_SELECTION, selectOnsets } from '#core/analysis/select-onsets.ts';
import { isVoiceAlone } from '#core/analysis/voice-alone.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { fMeasure } from '../bench/score-onsets.ts';

const EARLY_SECONDS = 0.03;
const LATE_SECONDS = 0.05;
const JOINT_SECONDS = 0.07;

const [folder] = process.argv.slice(2);
if (!folder) throw new Error('usage: npx tsx learning/judge-voices.ts FOLDER');
const truth = JSON.parse(await readFile(join(folder, 'truth.json'), 'utf8')) as Record<
  string,
  { startSeconds: number; vowelSeconds: number; endSeconds: number }[]
>;
const counted = new Map<string, { found: number; missed: number; invented: number; apart: number; known: number }>();
for (const [name, syllables] of Object.entries(truth)) {
  const { audio } = await decodeSoundFile(await readFile(join(folder, name)));
  const analysis = analyseSource(audio);
  const markers = selectOnsets(analysis.onsets, audio.sampleRate, DEFAULT_SELECTION).map(
    ({ attackFrame }) => attackFrame / audio.sampleRate,
  );
  const kind = name.split('-').slice(0, 2).join(' ');
  const sum = counted.get(kind) ?? { found: 0, missed: 0, invented: 0, apart: 0, known: 0 };
  counted.set(kind, sum);
  if (isVoiceAlone(analysis.mono, audio.sampleRate)) sum.known++;
  const taken = new Set<number>();
  for (const { startSeconds, vowelSeconds } of syllables) {
    const within = markers.filter(
      (at) => !taken.has(at) && at > startSeconds - EARLY_SECONDS && at < vowelSeconds + LATE_SECONDS,
    );
    for (const at of within) taken.add(at);
    if (within.length === 0) sum.missed++;
    else sum.found++;
    if (within.length > 1) sum.apart += within.length - 1;
  }
  sum.invented += markers.filter(
    (at) =>
      !taken.has(at) &&
      !syllables.some((one) => Math.abs(at - (one.vowelSeconds + one.endSeconds) / 2) < JOINT_SECONDS),
  ).length;
}
for (const [kind, { found, missed, invented, apart, known }] of counted) {
  const f = fMeasure({ found, missed, invented: invented + apart }).toFixed(3);
  process.stdout.write(
    `${kind}: F ${f} (${missed} missed of ${found + missed}, ${apart} cut apart, ${invented} other phantoms; ${known} files known as voices)\n`,
  );
}
