/** `find FILE…`: the breaks in long recordings, the most seamless first, as JSON. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { DEFAULT_BREAK_WISH, findBreaks, type BreakWish, type FoundBreak } from '#core/analysis/breaks/find-breaks.ts';
import { mixForReading, type AudioData } from '#core/dsp/audio.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { AppError } from '#core/units/errors.ts';
import { runToEnd } from '#core/units/steps.ts';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '#core/units/time.ts';
import { choiceOption, numberOption, UsageError } from './args.ts';
import { forEachFile } from './each-file.ts';
import { InputError, readAudioFile } from './read-audio.ts';

const LONGEST_BARS = 16;

export function runFind(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      'look-for': { type: 'string' },
      bars: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      seamless: { type: 'string' },
      others: { type: 'string' },
      out: { type: 'string' },
    },
  });
  if (positionals.length === 0) throw new UsageError('name at least one sound file');
  const tempo = { min: MIN_TEMPO_BPM, max: MAX_TEMPO_BPM };
  const share = { min: 0, max: 1 };
  const { fromBpm, toBpm, mostOthers, leastSeamless } = DEFAULT_BREAK_WISH;
  const wish: BreakWish = {
    lookFor: choiceOption(values, 'look-for', ['drums', 'loops'], 'drums'),
    bars: values.bars === undefined ? DEFAULT_BREAK_WISH.bars : barsOf(values.bars),
    fromBpm: numberOption(values, 'from', { ...tempo, fallback: fromBpm })!,
    toBpm: numberOption(values, 'to', { ...tempo, fallback: toBpm })!,
    mostOthers: numberOption(values, 'others', { ...share, fallback: mostOthers })!,
    leastSeamless: numberOption(values, 'seamless', { ...share, fallback: leastSeamless })!,
  };
  return forEachFile(positionals, (file, stem) => findIn(file, stem, wish, values.out));
}

function barsOf(text: string): number[] {
  const bars = text.split(',').map(Number);
  if (bars.every((one) => Number.isInteger(one) && one >= 1 && one <= LONGEST_BARS)) return bars;
  throw new UsageError(
    `--bars "${text}": give whole numbers from 1 to ${LONGEST_BARS} with commas between, like 1,2,4`,
  );
}

async function findIn(file: string, stem: string, wish: BreakWish, out: string | undefined): Promise<unknown> {
  const { audio } = await readAudioFile(file);
  const breaks = found(file, audio, wish);
  if (out !== undefined) await writeBreaks(out, stem, audio, breaks);
  return {
    file,
    sampleRate: audio.sampleRate,
    breaks: breaks.map(({ startFrame, endFrame, bars, beatsPerBar, bpm, seamless, fadeMs, others, stretch }) => ({
      startFrame,
      endFrame,
      bars,
      beatsPerBar,
      bpm: Math.round(bpm * 100) / 100,
      seamless: Math.round(seamless * 100) / 100,
      fadeMs,
      others: Math.round(others * 100) / 100,
      stretch,
    })),
  };
}

function found(file: string, audio: AudioData, wish: BreakWish): FoundBreak[] {
  try {
    return runToEnd(findBreaks(mixForReading(audio), audio.sampleRate, wish));
  } catch (error) {
    if (error instanceof AppError) throw new InputError(file, error.message);
    throw error;
  }
}

/** Each as a WAV with its loop and tempo in it, called after its place among them. */
async function writeBreaks(
  folder: string,
  stem: string,
  { channels, sampleRate }: AudioData,
  breaks: readonly FoundBreak[],
): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const [place, { startFrame, endFrame }] of breaks.entries()) {
    const part = { sampleRate, channels: channels.map((channel) => channel.subarray(startFrame, endFrame)) };
    const number = String(place + 1).padStart(2, '0');
    const name = `${stem}-break-${number}.wav`;
    await writeFile(join(folder, name), writeWav(part, { encoding: losslessEncoding(part) }));
  }
}
