/**
 * How good the stretching is, on loops whose ideal result is known, beside a general-purpose library on the same
 * material. Prints the table of docs/timing.md.
 */
import { SimpleFilter, SoundTouch } from 'soundtouchjs';
import { analyseOnsets } from '#core/analysis/detect-onsets.ts';
import { DEFAULT_SELECTION, selectOnsets } from '#core/analysis/select-onsets.ts';
import { frameCount, mixForReading, type AudioData } from '#core/dsp/audio.ts';
import { retime, type Attack, type Retiming } from '#core/stretch/retime.ts';
import { KINDS, makePiece, playPiece, RATE, type Kind, type Sounds } from './stretch-material.ts';
import { scoreStretch, type StretchScore } from './stretch-measures.ts';

/** Lengths of the result: 1.9, 1.43, 0.77 and 0.7 times the tempo. */
const RATIOS = [0.53, 0.7, 1.3, 1.43] as const;
const SEMITONES = [-12, -7, 5, 12] as const;
const SEEDS = [1, 2, 3, 4, 5, 6] as const;

type Method = (audio: AudioData, attacks: readonly Attack[], ratio: number, semitones: number) => AudioData;

const ours =
  (mode: Retiming['mode']): Method =>
  (audio, attacks, ratio, semitones) =>
    retime(audio, attacks, { mode, ratio, semitones, tail: 'ring', material: 'mixes' });

/** SoundTouchJS: overlap-add of similar pieces (WSOLA), as many programs use it. */
const library: Method = (audio, _attacks, ratio, semitones) => {
  const frames = Math.round(frameCount(audio) * ratio);
  const touch = new SoundTouch();
  touch.tempo = 1 / ratio;
  touch.pitchSemitones = semitones;
  const [left, right] = [audio.channels[0]!, audio.channels[1] ?? audio.channels[0]!];
  const source = {
    extract: (target: Float32Array, count: number, position: number) => {
      const available = Math.max(0, Math.min(count, left.length - position));
      for (let i = 0; i < available; i++) {
        target[2 * i] = left[position + i]!;
        target[2 * i + 1] = right[position + i]!;
      }
      return available;
    },
  };
  const filter = new SimpleFilter(source, touch);
  const interleaved = new Float32Array(2 * 4096);
  const out = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames;) {
    const got = filter.extract(interleaved, 4096);
    if (got === 0) break;
    for (let i = 0; i < got && at + i < frames; i++) {
      out[0]![at + i] = interleaved[2 * i]!;
      out[1]![at + i] = interleaved[2 * i + 1]!;
    }
    at += got;
  }
  return { sampleRate: audio.sampleRate, channels: out };
};

interface Contestant {
  name: string;
  method: Method;
  /** The attacks as they are, not as they were found: what is left then is not the cut's fault. */
  knowsAttacks?: boolean;
}

const BY_TEMPO: readonly Contestant[] = [
  { name: 'by slices', method: ours('slices') },
  { name: 'by slices, attacks known', method: ours('slices'), knowsAttacks: true },
  { name: 'by stretching', method: ours('stretch') },
  { name: 'SoundTouchJS', method: library },
];
const BY_PITCH: readonly Contestant[] = [
  { name: 'by stretching', method: ours('stretch') },
  { name: 'SoundTouchJS', method: library },
];

interface Result {
  scores: StretchScore[];
  audioSeconds: number;
  cpuSeconds: number;
}

function run(
  sounds: Sounds,
  kind: Kind,
  { method, knowsAttacks = false }: Contestant,
  changes: readonly (readonly [ratio: number, semitones: number])[],
): Result {
  const result: Result = { scores: [], audioSeconds: 0, cpuSeconds: 0 };
  for (const seed of SEEDS) {
    const piece = makePiece(sounds, kind, seed);
    const { audio: source, attacks: played } = playPiece(piece, piece.tempoBpm);
    const attacks = knowsAttacks ? played.map((frame) => ({ frame })) : findAttacks(source);
    for (const [ratio, semitones] of changes) {
      const ideal = playPiece(piece, piece.tempoBpm / ratio, semitones);
      const before = process.cpuUsage();
      const stretched = method(source, attacks, ratio, semitones);
      const { user, system } = process.cpuUsage(before);
      result.cpuSeconds += (user + system) / 1e6;
      result.audioSeconds += frameCount(source) / RATE;
      result.scores.push(scoreStretch(ideal.audio, stretched, ideal.attacks));
    }
  }
  return result;
}

function findAttacks(source: AudioData): Attack[] {
  return selectOnsets(analyseOnsets(mixForReading(source), RATE).onsets, RATE, DEFAULT_SELECTION);
}

function row(name: string, { scores, audioSeconds, cpuSeconds }: Result): string {
  const at = (values: readonly number[], share: number) =>
    [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? NaN;
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const timing = scores.flatMap((score) => score.timingMs);
  const wide = scores.flatMap((score) => score.wideTimingMs);
  const attack = scores.flatMap((score) => score.attackDb);
  return [
    name,
    `${at(timing, 0.5).toFixed(1)} / ${at(timing, 0.95).toFixed(1)} ms`,
    `${at(wide, 0.5).toFixed(1)} / ${at(wide, 0.95).toFixed(1)} ms`,
    `${at(attack, 0.5).toFixed(1)} / ${at(attack, 0.1).toFixed(1)} dB`,
    `${mean(scores.flatMap((score) => score.preEchoDb)).toFixed(1)} dB`,
    `${mean(scores.map((score) => score.melDb)).toFixed(2)} dB`,
    `${mean(scores.map((score) => score.sideDb)).toFixed(1)} dB`,
    mean(scores.map((score) => score.clicksPerSecond)).toFixed(2),
    (audioSeconds / cpuSeconds).toFixed(0),
  ].join(' | ');
}

/** Prints the table, a row a kind, change and method. */
export function printStretchTable(sounds: Sounds, print: (line: string) => void): void {
  print(
    '| what | timing, median / 95% | looked for wider | attack, median / worst tenth | before it | mel | side | clicks a second | s a CPU s |',
  );
  print('| --- | --- | --- | --- | --- | --- | --- | --- | --- |');
  const tempi = RATIOS.map((ratio) => [ratio, 0] as const);
  const pitches = SEMITONES.map((semitones) => [1, semitones] as const);
  for (const kind of KINDS) {
    for (const one of BY_TEMPO) print(`| ${row(`${kind}, tempo, ${one.name}`, run(sounds, kind, one, tempi))} |`);
    for (const one of BY_PITCH) print(`| ${row(`${kind}, pitch, ${one.name}`, run(sounds, kind, one, pitches))} |`);
  }
}
