/** `slice FILE…`: cuts sound files and prints where, as JSON. */
import { MAX_SLICES } from '#core/analysis/slice-limit.ts';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { analyseSource, describeSlices, type SourceAnalysis } from '#core/analysis/analyse-source.ts';
import { cutAtHits, cutByPitch, cutEqually, cutOnGrid, limitMarkers, type Marker } from '#core/analysis/cut.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { frameCount, type AudioData } from '#core/dsp/audio.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { loopTempoBpm, MAX_TEMPO_BPM, MIN_TEMPO_BPM, TICKS_PER_BEAT } from '#core/units/time.ts';
import { choiceOption, numberOption, UsageError } from './args.ts';
import { forEachFile } from './each-file.ts';
import { readAudioFile } from './read-audio.ts';

/** As the document calls them; the older names go on working. */
const METHODS = ['hits', 'grid', 'equal', 'pitch'] as const;
const OLDER_METHODS: Readonly<Record<string, string>> = { onsets: 'hits', count: 'equal' };

interface SliceOptions {
  method: (typeof METHODS)[number];
  sensitivity: number;
  division: number;
  count: number;
  tempo?: number;
  bars?: number;
  out?: string;
}

export async function runSlice(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      method: { type: 'string' },
      sensitivity: { type: 'string' },
      division: { type: 'string' },
      count: { type: 'string' },
      tempo: { type: 'string' },
      bars: { type: 'string' },
      out: { type: 'string' },
    },
  });
  if (positionals.length === 0) throw new UsageError('name at least one sound file');
  const options: SliceOptions = {
    method: choiceOption({ method: OLDER_METHODS[values.method ?? ''] ?? values.method }, 'method', METHODS, 'hits'),
    sensitivity: numberOption(values, 'sensitivity', { min: 0, max: 1, fallback: DEFAULT_SELECTION.sensitivity })!,
    division: numberOption(values, 'division', { min: 1, max: 64, fallback: 16 })!,
    count: numberOption(values, 'count', { min: 1, max: MAX_SLICES, fallback: 16, whole: true })!,
    tempo: numberOption(values, 'tempo', { min: MIN_TEMPO_BPM, max: MAX_TEMPO_BPM }),
    bars: numberOption(values, 'bars', { min: 1, max: 64, whole: true }),
    out: values.out,
  };

  return forEachFile(positionals, (file, stem) => sliceFile(file, stem, options));
}

async function sliceFile(file: string, stem: string, options: SliceOptions): Promise<unknown> {
  const { audio } = await readAudioFile(file);
  const analysis = analyseSource(audio);
  const tempo = chooseTempo(analysis, options);
  const { markers, uncutFrame } = limitMarkers(findMarkers(analysis, options, tempo?.bpm));
  const frames = frameCount(audio);
  if (uncutFrame !== null) {
    process.stderr.write(`${file}: these are the first ${MAX_SLICES} slices; from frame ${uncutFrame} on it is one\n`);
  }
  const ranges = markers.map((marker, index) => ({
    startFrame: marker.frame,
    endFrame: markers[index + 1]?.frame ?? frames,
  }));
  const facts = describeSlices(analysis, ranges);
  if (options.out) await writeSlices(options.out, stem, audio, ranges);
  return {
    file,
    sampleRate: audio.sampleRate,
    frames,
    channels: audio.channels.length,
    tempo,
    slices: ranges.map((range, index) => ({
      ...range,
      strength: round(markers[index]!.strength, 4),
      role: facts[index]!.role,
      roleConfidence: round(facts[index]!.roleConfidence, 4),
      midi: facts[index]!.midi,
      cents: facts[index]!.cents,
    })),
  };
}

function findMarkers(analysis: SourceAnalysis, options: SliceOptions, tempoBpm: number | undefined): Marker[] {
  switch (options.method) {
    case 'hits':
      return cutAtHits(analysis, { ...DEFAULT_SELECTION, sensitivity: options.sensitivity });
    case 'equal':
      return cutEqually(analysis, options.count);
    case 'pitch':
      return cutByPitch(analysis, { minLengthMs: 60 });
    case 'grid':
      return cutOnGrid(analysis, {
        stepTicks: (4 * TICKS_PER_BEAT) / options.division,
        tempoBpm: tempoBpm ?? 120,
        startFrame: 0,
        endFrame: analysis.mono.length,
      });
  }
}

function chooseTempo(analysis: SourceAnalysis, { tempo, bars }: SliceOptions) {
  const { sampleRate, mono, tempoReadings } = analysis;
  const alternatives = tempoReadings.slice(0, 6).map((reading) => ({ bpm: round(reading.bpm, 4), bars: reading.bars }));
  if (tempo !== undefined || bars !== undefined) {
    const seconds = mono.length / sampleRate;
    const wholeBars = bars ?? Math.max(1, Math.round((seconds * tempo!) / 240));
    const bpm = tempo ?? loopTempoBpm(wholeBars, 4, mono.length, sampleRate);
    return { bpm: round(bpm, 4), bars: wholeBars, beatsPerBar: 4, confidence: 1, alternatives };
  }
  const best = tempoReadings[0];
  if (!best) return null;
  return {
    bpm: round(best.bpm, 4),
    bars: best.bars,
    beatsPerBar: best.beatsPerBar,
    confidence: round(best.confidence, 4),
    alternatives,
  };
}

async function writeSlices(
  folder: string,
  stem: string,
  audio: AudioData,
  ranges: readonly { startFrame: number; endFrame: number }[],
): Promise<void> {
  await mkdir(folder, { recursive: true });
  const digits = String(ranges.length).length;
  for (const [index, { startFrame, endFrame }] of ranges.entries()) {
    const part = { sampleRate: audio.sampleRate, channels: audio.channels.map((c) => c.slice(startFrame, endFrame)) };
    const name = `${stem}-${String(index + 1).padStart(digits, '0')}.wav`;
    await writeFile(join(folder, name), writeWav(part, { encoding: losslessEncoding(part) }));
  }
}

function round(value: number, digits: number): number {
  return Math.round(value * 10 ** digits) / 10 ** digits;
}
