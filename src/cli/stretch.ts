/** `stretch IN --out OUT.wav --from BPM --to BPM`: a sound file at another tempo or pitch. */
import { writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { analyseOnsets } from '#core/analysis/detect-onsets.ts';
import { DEFAULT_SELECTION, selectOnsets } from '#core/analysis/select-onsets.ts';
import { frameCount, mixForReading, type AudioData } from '#core/dsp/audio.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { MATERIALS } from '#core/params/choices.ts';
import { MAX_STRETCH_RATIO } from '#core/stretch/materials.ts';
import { retimeSteps, type Attack, type Retiming } from '#core/stretch/retime.ts';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '#core/units/time.ts';
import { choiceOption, numberOption, UsageError } from './args.ts';
import { InputError, readAudioFile } from './read-audio.ts';

const MODES = ['slices', 'stretch', 'speed'] as const;
const TAILS = ['ring', 'fade', 'leave'] as const;

export async function runStretch(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      semitones: { type: 'string' },
      follow: { type: 'string' },
      // Its older name.
      mode: { type: 'string' },
      material: { type: 'string' },
      tail: { type: 'string' },
    },
  });
  const [file, ...others] = positionals;
  if (file === undefined || others.length > 0) throw new UsageError('name one sound file');
  if (values.out === undefined) throw new UsageError('name the file to write with --out');
  const tempo = { min: MIN_TEMPO_BPM, max: MAX_TEMPO_BPM };
  const from = numberOption(values, 'from', tempo);
  const to = numberOption(values, 'to', tempo);
  if (from === undefined || to === undefined) throw new UsageError('name both tempi: --from BPM --to BPM');
  const retiming: Retiming = {
    mode: choiceOption({ follow: values.follow ?? values.mode }, 'follow', MODES, 'stretch'),
    ratio: from / to,
    semitones: numberOption(values, 'semitones', { min: -48, max: 48, fallback: 0 })!,
    tail: choiceOption(values, 'tail', TAILS, 'ring'),
    material: choiceOption(values, 'material', MATERIALS, 'mixes'),
  };
  if (retiming.mode === 'stretch' && (retiming.ratio > MAX_STRETCH_RATIO || retiming.ratio < 1 / MAX_STRETCH_RATIO)) {
    throw new InputError(
      file,
      `from ${from} to ${to} bpm is more than ${MAX_STRETCH_RATIO} times: use --follow slices or --follow speed`,
    );
  }

  const { audio } = await readAudioFile(file);
  const isUncut = retiming.mode === 'speed' && retiming.semitones === 0;
  const attacks = isUncut ? [] : findAttacks(audio);
  const steps = retimeSteps(audio, attacks, retiming);
  let step = steps.next();
  let shown = 0;
  while (!step.done) {
    if (step.value - shown >= 0.1) process.stderr.write(`${Math.round((shown = step.value) * 100)}%\n`);
    step = steps.next();
  }
  await writeFile(values.out, writeWav(step.value, { encoding: 'float32' }));
  const report = { file, out: values.out, ...retiming, frames: frameCount(step.value), attacks: attacks.length };
  process.stdout.write(`${JSON.stringify(report)}\n`);
  return 0;
}

function findAttacks(audio: AudioData): Attack[] {
  const { onsets } = analyseOnsets(mixForReading(audio), audio.sampleRate, 1 - DEFAULT_SELECTION.sensitivity);
  return selectOnsets(onsets, audio.sampleRate, DEFAULT_SELECTION);
}
