/** Sounds that nobody would cut, and everybody has: whatever is heard in them is told in numbers that can be saved. */
import { expect, it } from 'vitest';
import { analyseSource, describeSlices, type SourceAnalysis } from '#core/analysis/analyse-source.ts';
import { cutAtHits, cutByPitch, cutEqually, cutOnGrid, type Marker } from '#core/analysis/cut.ts';
import { hearForShelf } from '#core/analysis/hear-for-shelf.ts';
import { likenessMatrix } from '#core/analysis/likeness.ts';
import { findLoopPoints, loopQuality } from '#core/analysis/loop-points.ts';
import { silenceLevelDb } from '#core/analysis/silence.ts';
import { NO_PULLS } from '#core/unmix/border.ts';
import { takeSliceApart } from '#core/unmix/in-loop.ts';
import { seededRandom } from '#core/units/random.ts';

const RATES = [44_100, 192_000];
const LENGTHS = [1, 100, 12_001];

const filled = (level: (share: number, frame: number) => number) => (frames: number) =>
  Float32Array.from({ length: frames }, (_, frame) => level(frame / frames, frame));
const noise = (level: number) => {
  const random = seededRandom(3);
  return filled(() => level * (random() - 0.5));
};
/** Of so many frames. */
const SOUNDS: Readonly<Record<string, (frames: number) => Float32Array>> = {
  silence: filled(() => 0),
  'a hit after silence': filled((share, i) => (share > 0.7 ? Math.sin(i / 9) * Math.exp(-30 * (share - 0.7)) : 0)),
  'a hit before silence': filled((share, i) => (share < 0.05 ? Math.sin(i / 9) : 0)),
  'one sample': filled((_, frame) => (frame === 50 ? 1 : 0)),
  'hits with silence between': filled((_, i) =>
    i % 8_000 < 3_000 ? Math.sin(i / 7) * Math.exp(-(i % 8_000) / 900) : 0,
  ),
  'a level that stands still': filled(() => 0.7),
  'every other sample': filled((_, frame) => (frame % 2 ? 1 : -1)),
  'far above 0 dB': filled((_, frame) => 1e6 * Math.sin(frame / 20)),
  noise: noise(1),
  'noise 180 dB down': noise(1e-9),
  'the smallest numbers there are': filled(() => 1e-42),
};

/** Paths of what is no finite number in a thing, the first few. */
function oddIn(thing: unknown, path: string): string[] {
  if (typeof thing === 'number') return Number.isFinite(thing) ? [] : [`${path} is ${thing}`];
  if (typeof thing !== 'object' || thing === null) return [];
  if (thing instanceof Float32Array) return thing.every(Number.isFinite) ? [] : [`${path} holds what is no number`];
  return Object.entries(thing)
    .flatMap(([name, inside]) => oddIn(inside, `${path}.${name}`))
    .slice(0, 3);
}

function oddCut(analysis: SourceAnalysis, how: string, markers: readonly Marker[]): string[] {
  const frames = analysis.mono.length;
  const ranges = markers.map(({ frame }, i) => ({ startFrame: frame, endFrame: markers[i + 1]?.frame ?? frames }));
  const facts = describeSlices(analysis, ranges);
  const isShare = (value: number) => value >= 0 && value <= 1;
  return [
    ...oddIn({ markers, facts, likeness: likenessMatrix(analysis, ranges) }, how),
    ...ranges.filter(({ startFrame, endFrame }) => startFrame < 0 || endFrame <= startFrame).map(() => `${how}: order`),
    ...markers.filter(({ strength }) => !isShare(strength)).map(() => `${how}: strength`),
    ...facts.filter(({ roleConfidence }) => !isShare(roleConfidence)).map(() => `${how}: confidence`),
  ];
}

function oddApart(mono: Float32Array, sampleRate: number): string[] {
  const half = Math.floor(mono.length / 2);
  const slices = [
    { startFrame: 0, endFrame: half, role: 'kick' as const, isSure: true },
    { startFrame: half, endFrame: mono.length, role: 'closed hat' as const, isSure: true },
  ];
  const { layers, left, guides } = takeSliceApart({ sampleRate, channels: [mono] }, slices, {
    place: 1,
    layers: [
      { role: 'kick', guide: { kind: 'found' } },
      { role: 'closed hat', guide: { kind: 'role' } },
    ],
    ring: { percent: 100, fromSeconds: 0, untilSeconds: 1, leavesLow: false },
    softEdgePercent: 30,
    attacks: 'both',
    pulls: NO_PULLS,
  });
  return oddIn({ layers, left, guides }, 'apart');
}

it.each(Object.keys(SOUNDS))('%s is cut, described and taken apart in finite numbers', (name) => {
  const found: string[] = [];
  for (const sampleRate of RATES) {
    for (const frames of LENGTHS) {
      const mono = SOUNDS[name]!(frames);
      const audio = { sampleRate, channels: [mono] };
      const analysis = analyseSource(audio);
      const { onsets, landscape, tempoReadings } = analysis;
      const all = [
        ...oddIn({ onsets, landscape, tempoReadings }, 'read'),
        ...oddCut(analysis, 'at hits', cutAtHits(analysis, { sensitivity: 1, minGapMs: 5 })),
        ...oddCut(analysis, 'at notes', cutByPitch(analysis, { minLengthMs: 20 })),
        ...oddCut(analysis, 'in equal parts', cutEqually(analysis, 7)),
        ...oddCut(
          analysis,
          'on a grid',
          cutOnGrid(analysis, { stepTicks: 240, tempoBpm: 120, startFrame: 0, endFrame: frames }),
        ),
        ...oddIn(silenceLevelDb(analysis), 'silence'),
        ...oddIn(hearForShelf(audio, analysis), 'shelf'),
        ...oddIn(findLoopPoints(mono, sampleRate, 0, frames), 'loop points'),
        ...oddIn(loopQuality(mono, sampleRate, 0, frames), 'loop quality'),
        ...(frames >= 100 ? oddApart(mono, sampleRate) : []),
      ];
      found.push(...all.map((words) => `${frames} frames at ${sampleRate} Hz: ${words}`));
    }
  }
  expect(found.slice(0, 10)).toEqual([]);
});
