/** Decodes, analyses and cuts away from the page, so that nothing there waits. */
import { findLoopPoints, loopQuality } from '#core/analysis/loop-points.ts';
import { analyseSource, analysisSteps, describeSlices, type SourceAnalysis } from '#core/analysis/analyse-source.ts';
import {
  cutAtCues,
  cutAtHits,
  cutByPitch,
  cutEqually,
  cutOnGrid,
  limitMarkers,
  pullToGrid,
  type Marker,
} from '#core/analysis/cut.ts';
import { findBreaks, type BreakWish, type FoundBreak } from '#core/analysis/breaks/find-breaks.ts';
import { findBarFrames } from '#core/analysis/find-bars.ts';
import { likenessMatrix } from '#core/analysis/likeness.ts';
import { silenceLevelDb, soundingRange } from '#core/analysis/silence.ts';
import { nearestZeroCrossing } from '#core/analysis/snap.ts';
import { hearForShelf } from '#core/analysis/hear-for-shelf.ts';
import { DEFAULT_SELECTION, selectOnsets } from '#core/analysis/select-onsets.ts';
import { durationSeconds, frameCount, mixForReading, type AudioData } from '#core/dsp/audio.ts';
import { resampleFine } from '#core/dsp/fine-resample.ts';
import { buildPeaks, SHELF_SKYLINE_STRETCHES, skylineOf } from '#core/dsp/peaks.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { readWav, type WavFile } from '#core/formats/wav-read.ts';
import { losslessEncoding, writeWav } from '#core/formats/wav-write.ts';
import { flattenSteps } from '#core/stretch/flatten.ts';
import { takeSliceApart, type SliceWish } from '#core/unmix/in-loop.ts';
import { asNewSounds, withRange, withSlicesChanged, type KeptApart } from '#core/unmix/results.ts';
import { LONGEST_SECONDS } from '#core/unmix/take-apart.ts';
import { AppError } from '#core/units/errors.ts';
import type {
  AnalysisRequest,
  ApartAsked,
  CutRequest,
  CutResult,
  EarlyReading,
  FlatResult,
  HeardSource,
  ImportedSource,
  KeptResult,
  LoadedSource,
  SourceReading,
} from './analysis-protocol.ts';
import { api } from '../api/client.ts';
import { serve } from './rpc.ts';

/** Of sounds longer than twice this the beginning is read first. */
const EARLY_SECONDS = 20;

const audioById = new Map<string, AudioData>();
const analysisById = new Map<string, SourceAnalysis>();
/** WAV files of imported sounds that are not on the shelf yet. */
const waitingForShelf = new Map<string, Uint8Array<ArrayBuffer>>();
const cuesById = new Map<string, number[]>();

serve<AnalysisRequest>(async (request, job) => {
  switch (request.kind) {
    case 'import': {
      const imported = await importFile(request.bytes, job.progress);
      return { result: imported };
    }
    case 'put-on-shelf': {
      const { sourceId, name, facts, tags, prints } = request;
      const wav = waitingForShelf.get(sourceId);
      if (!wav) throw new AppError('audio.missing', 'this sound was not imported here', { id: sourceId });
      await api.putSource(sourceId, { name, facts, tags, prints }, wav);
      waitingForShelf.delete(sourceId);
      return { result: null };
    }
    case 'hear':
      return { result: hear(request.sourceId) };
    case 'find-breaks':
      return { result: await breaksIn(request.sourceId, request.wish, job.progress) };
    case 'take-apart':
      return {
        result: takeSliceApart(audioOf(request.sourceId), request.slices, wishOf(request.wish, request.sourceId)),
      };
    case 'keep-apart':
      return { result: await keepApart(request, job.progress) };
    case 'flatten':
      return { result: await flattened(request, job.progress) };
    case 'load': {
      const bytes = await api.sourceAudio(request.sourceId);
      return { result: keep(request.sourceId, rememberCues(request.sourceId, readWav(bytes))) };
    }
    case 'forget':
      forget(request.sourceId);
      return { result: null };
    case 'analyse': {
      const { onsets, landscape, tempoReadings } = analysisOf(request.sourceId);
      const cueFrames = cuesById.get(request.sourceId) ?? [];
      return { result: { onsets, landscape, tempoReadings, cueFrames } satisfies SourceReading };
    }
    case 'cut': {
      const analysis = analysisOf(request.sourceId);
      const { markers, uncutFrame } = limitMarkers(runCut(request.sourceId, request.cut));
      const ranges = markers.map((marker, index) => ({
        startFrame: marker.frame,
        endFrame: markers[index + 1]?.frame ?? analysis.mono.length,
      }));
      return { result: { markers, uncutFrame, facts: describeSlices(analysis, ranges) } satisfies CutResult };
    }
    case 'preview-cut':
      return { result: limitMarkers(runCut(request.sourceId, request.cut)).markers };
    case 'find-bars': {
      const { onsets, sampleRate } = analysisOf(request.sourceId);
      const hits = selectOnsets(onsets, sampleRate, DEFAULT_SELECTION).map(({ attackFrame: frame, strength }) => ({
        frame,
        strength,
      }));
      return { result: findBarFrames(hits, request.loop, sampleRate, request.stepTicks) };
    }
    case 'trim': {
      const analysis = analysisOf(request.sourceId);
      return { result: request.ranges.map((range) => soundingRange(analysis, range, request.levelDb)) };
    }
    case 'silence-level':
      return { result: silenceLevelDb(analysisOf(request.sourceId)) };
    case 'likeness':
      return { result: likenessMatrix(analysisOf(request.sourceId), request.ranges) };
    case 'describe':
      return { result: describeSlices(analysisOf(request.sourceId), request.ranges, request.among) };
    case 'loop-points': {
      const { mono, sampleRate } = analysisOf(request.sourceId);
      return { result: findLoopPoints(mono, sampleRate, request.startFrame, request.endFrame) };
    }
    case 'loop-quality': {
      const { mono, sampleRate } = analysisOf(request.sourceId);
      return { result: loopQuality(mono, sampleRate, request.startFrame, request.endFrame) };
    }
    case 'snap':
      return { result: snap(analysisOf(request.sourceId), request.frame, request.toAttack ? request.reachFrames : -1) };
  }
});

function hear(sourceId: string): HeardSource {
  const { prints, heard } = hearForShelf(audioById.get(sourceId)!, analysisOf(sourceId));
  const { startFrames, bytes } = prints;
  return { prints: { startFrames, bytes: btoa(String.fromCharCode(...bytes)) }, ...(heard && { heard }) };
}

async function importFile(
  bytes: Uint8Array<ArrayBuffer>,
  progress: (share: number, early?: EarlyReading) => Promise<boolean>,
): Promise<ImportedSource> {
  const step = async (share: number, early?: EarlyReading) => {
    if (!(await progress(share, early))) throw new AppError('cancelled', 'the import was cancelled');
  };
  await step(0.05);
  const { audio, mended, cues, loops } = await decodeSoundFile(bytes);
  await step(0.5);
  // Cue points and the loop stay in the stored file: they are a way to cut it.
  const wav = writeWav(audio, { encoding: losslessEncoding(audio), cues, loop: loops[0] });
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', wav));
  const sourceId = Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
  await step(0.6);
  const wasKnown = audioById.has(sourceId);
  try {
    rememberCues(sourceId, { audio, cues, loops });
    const loaded = keep(sourceId, audio);
    const skyline = skylineOf(loaded.peaks, SHELF_SKYLINE_STRETCHES);
    if (durationSeconds(loaded) > 2 * EARLY_SECONDS) await step(0.6, readEarly(loaded, skyline));
    // Read at once, so that the whole import is one thing to wait for, and to give up.
    const steps = analysisSteps(audioById.get(sourceId)!);
    let next = steps.next();
    while (!next.done) {
      await step(0.6 + 0.4 * next.value);
      next = steps.next();
    }
    analysisById.set(sourceId, next.value);
    waitingForShelf.set(sourceId, wav);
    return { ...loaded, skyline, mended };
  } catch (error) {
    if (!wasKnown) forget(sourceId);
    throw error;
  }
}

/** Work may be given up between its steps. */
async function breaksIn(
  sourceId: string,
  wish: BreakWish,
  progress: (share: number) => Promise<boolean>,
): Promise<FoundBreak[]> {
  const audio = audioOf(sourceId);
  const steps = findBreaks(mixForReading(audio), audio.sampleRate, wish);
  let next = steps.next();
  for (; !next.done; next = steps.next()) {
    if (!(await progress(next.value))) throw new AppError('cancelled', 'the search was cancelled');
  }
  return next.value;
}

/** A guide from the shelf at the rate of the sound that is taken apart. */
function wishOf({ layers, ...wish }: ApartAsked, sourceId: string): SliceWish {
  const { sampleRate } = audioOf(sourceId);
  const guided = layers.map(({ role, guide }) => {
    if (guide.kind !== 'sound') return { role, guide };
    const sound = audioOf(guide.sourceId);
    const increment = sound.sampleRate / sampleRate;
    const frames = Math.min(Math.round(frameCount(sound) / increment), LONGEST_SECONDS * sampleRate);
    const channels = sound.channels.map((channel) => resampleFine(channel, increment, frames));
    return { role, guide: { kind: 'sound' as const, channels } };
  });
  return { ...wish, layers: guided };
}

async function keepApart(
  { sourceId, slices, asked, inPlace }: Extract<AnalysisRequest, { kind: 'keep-apart' }>,
  progress: (share: number) => Promise<boolean>,
): Promise<KeptResult> {
  const audio = audioOf(sourceId);
  const kept: KeptApart[] = [];
  for (const { wish, gains } of asked) {
    if (!(await progress(kept.length / asked.length))) throw new AppError('cancelled', 'taking apart was cancelled');
    kept.push({ place: wish.place, apart: takeSliceApart(audio, slices, wishOf(wish, sourceId)), gains });
  }
  const made = inPlace ? { audio: withSlicesChanged(audio, slices, kept), sounds: [] } : asNewSounds(audio, kept);
  return { wav: writeWav(made.audio, { encoding: losslessEncoding(made.audio) }), sounds: made.sounds };
}

async function flattened(
  { sourceId, range, wish, inPlace }: Extract<AnalysisRequest, { kind: 'flatten' }>,
  progress: (share: number) => Promise<boolean>,
): Promise<FlatResult> {
  const audio = audioOf(sourceId);
  const channels = audio.channels.map((channel) => channel.slice(range.startFrame, range.endFrame));
  const steps = flattenSteps({ ...audio, channels }, wish);
  let next = steps.next();
  for (; !next.done; next = steps.next()) {
    if (!(await progress(next.value))) throw new AppError('cancelled', 'making flat was cancelled');
  }
  if (!next.value) return null;
  const made = inPlace ? withRange(audio, range.startFrame, next.value.audio.channels) : next.value.audio;
  return { wav: writeWav(made, { encoding: losslessEncoding(made) }), note: next.value.note };
}

/** Nothing of a sound that was given up stays in memory. */
function forget(sourceId: string): void {
  for (const table of [audioById, analysisById, waitingForShelf, cuesById]) table.delete(sourceId);
}

/** Hits of the beginning, which is there in a moment. */
function readEarly(audio: AudioData, skyline: number[]): EarlyReading {
  const frames = Math.round(EARLY_SECONDS * audio.sampleRate);
  const head = { ...audio, channels: audio.channels.map((channel) => channel.subarray(0, frames)) };
  const hits = cutAtHits(analyseSource(head), DEFAULT_SELECTION).length;
  return { readSeconds: EARLY_SECONDS, totalSeconds: durationSeconds(audio), hits, skyline };
}

/** Keeps the places that a file names. */
function rememberCues(sourceId: string, { audio, cues, loops }: Pick<WavFile, 'audio' | 'cues' | 'loops'>): AudioData {
  cuesById.set(sourceId, [
    ...cues.map((cue) => cue.frame),
    ...loops.flatMap((loop) => [loop.startFrame, loop.endFrame]),
  ]);
  return audio;
}

function keep(sourceId: string, decoded: AudioData): LoadedSource {
  const audio: AudioData = { sampleRate: decoded.sampleRate, channels: decoded.channels.map(shared) };
  audioById.set(sourceId, audio);
  return { sourceId, ...audio, peaks: buildPeaks(audio) };
}

/** A copy in shared memory where the page is isolated; the array itself elsewhere. */
function shared(samples: Float32Array): Float32Array {
  if (typeof SharedArrayBuffer === 'undefined') return samples;
  const out = new Float32Array(new SharedArrayBuffer(samples.byteLength));
  out.set(samples);
  return out;
}

function audioOf(sourceId: string): AudioData {
  const audio = audioById.get(sourceId);
  if (!audio) throw new AppError('audio.missing', 'the audio of this source is not loaded', { id: sourceId });
  return audio;
}

function analysisOf(sourceId: string): SourceAnalysis {
  const known = analysisById.get(sourceId);
  if (known) return known;
  const analysis = analyseSource(audioOf(sourceId));
  analysisById.set(sourceId, analysis);
  return analysis;
}

function runCut(sourceId: string, cut: CutRequest): Marker[] {
  const analysis = analysisOf(sourceId);
  switch (cut.method) {
    case 'hits': {
      const hits = cutAtHits(analysis, cut);
      return cut.pull ? pullToGrid(hits, cut.pull.grid, analysis.sampleRate, cut.pull.percent) : hits;
    }
    case 'file':
      return cutAtCues(cuesById.get(sourceId) ?? [], analysis.mono.length);
    case 'grid':
      return cutOnGrid(analysis, cut);
    case 'equal':
      return cutEqually(analysis, cut.count, cut.startFrame, cut.endFrame);
    case 'pitch':
      return cutByPitch(analysis, cut);
    case 'at':
      return cut.frames.map((frame) => ({ frame, strength: 1 }));
  }
}

function snap(analysis: SourceAnalysis, frame: number, reachFrames: number): number {
  const near = analysis.onsets.filter((onset) => Math.abs(onset.frame - frame) <= reachFrames && onset.strength > 0.15);
  if (near.length > 0) return near.reduce((best, onset) => (onset.strength > best.strength ? onset : best)).frame;
  return nearestZeroCrossing(analysis.mono, frame, Math.round(analysis.sampleRate * 0.001));
}
