/** How well two drums that were struck together are taken apart: prints the table of docs/analysis.md. */
import type { Role } from '#core/analysis/role-names.ts';
import { NO_PULLS } from '#core/unmix/border.ts';
import { sumOfPowers } from '#core/unmix/ring.ts';
import { spectrographFor, takeApart, type LayerWish } from '#core/unmix/take-apart.ts';
import { seededRandom } from '#core/units/random.ts';
import { strike, type MadeRole } from '../tests/support/made-drums.ts';
import { readSounds, RATE } from './stretch-material.ts';
import { medianFiltered } from './median-separation.ts';

const PAIRS = [
  ['kick', 'closed hat'],
  ['snare', 'closed hat'],
] as const;
const MIXES = 60;
const ATTACK_FRAMES = 0.01 * RATE;

interface Sound {
  samples: Float32Array;
  /** The same drum, struck otherwise. */
  again: Float32Array;
}

/** Ratio of a sound to what an estimate of it has wrong, in dB: SDR of E. Vincent et al., IEEE TASLP 14, 2006, eq. 11, with
 * nothing forgiven (only the true sound itself counts as right). */
function sdrDb(truth: Float32Array, found: Float32Array): number {
  let [signal, wrong] = [1e-20, 1e-20];
  for (let i = 0; i < truth.length; i++) {
    signal += truth[i]! ** 2;
    wrong += (truth[i]! - found[i]!) ** 2;
  }
  return 10 * Math.log10(signal / wrong);
}

function levelDb(samples: Float32Array, frames = samples.length): number {
  let sum = 1e-20;
  for (let i = 0; i < frames; i++) sum += samples[i]! ** 2;
  return 10 * Math.log10(sum);
}

function placed(samples: Float32Array, frames: number, offset: number, gain: number): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => gain * (samples[i - offset] ?? 0));
}

/** Of single hits the one that is most like another stands for the same drum, struck otherwise. */
function withLikes(all: readonly Float32Array[]): Sound[] {
  const shapes = all.map((samples) => sumOfPowers([samples], spectrographFor(RATE), 0, RATE * 0.15).map(Math.sqrt));
  const norm = (a: Float32Array) => Math.sqrt(a.reduce((sum, value) => sum + value * value, 0)) + 1e-20;
  const norms = shapes.map(norm);
  return all.map((samples, place) => {
    let [best, most] = [place, -1];
    for (const [other, shape] of shapes.entries()) {
      if (other === place) continue;
      const alike =
        shape.reduce((sum, value, i) => sum + value * shapes[place]![i]!, 0) / (norms[place]! * norms[other]!);
      if (alike > most) [best, most] = [other, alike];
    }
    return { samples, again: all[best]! };
  });
}

const CORPUS_ROLE = { kick: 'kick', snare: 'snare', 'closed hat': 'closedHat' } as const;

async function soundsOf(folder: string): Promise<Record<string, (role: MadeRole) => Sound[]>> {
  const made = (role: MadeRole) =>
    Array.from({ length: 20 }, (_, seed) => ({
      samples: strike({ role, seed: seed + 1 }, 1),
      again: strike({ role, seed: seed + 1 }, 2),
    }));
  const sounds = await readSounds(folder);
  if (!sounds) return { 'made by arithmetic': made };
  const { hits, hitAudio } = sounds;
  const corpus = (role: MadeRole) =>
    withLikes(
      hits
        .filter((hit) => hit.role === CORPUS_ROLE[role])
        .map(({ offset, frames }) => hitAudio.subarray(offset, offset + frames)),
    );
  return { corpus, 'made by arithmetic': made };
}

interface Result {
  gainDb: number[];
  attackDb: number[];
  residualDb: number;
}

function measure(one: Sound[], other: Sound[], roles: readonly [Role, Role]): Record<string, Result> {
  const random = seededRandom(11);
  const pick = (list: Sound[]) => list[Math.floor(random() * list.length)]!;
  const results: Record<string, Result> = {};
  for (let mix = 0; mix < MIXES; mix++) {
    const [low, high] = [pick(one), pick(other)];
    const frames = Math.round((0.11 + 0.15 * random()) * RATE);
    const offsets = [0, 0].map(() => Math.round(random() * 0.002 * RATE));
    const first = placed(low.samples, frames, offsets[0]!, 0.7);
    const dry = placed(high.samples, frames, offsets[1]!, 1);
    // A hat stands 4 to 18 dB below what it is struck with.
    const gain = 10 ** ((levelDb(first) - levelDb(dry) - 4 - 14 * random()) / 20);
    const second = dry.map((value) => value * gain);
    const slice = first.map((value, i) => value + second[i]!);
    const truths = [first, second];
    const plainDb = truths.map((truth) => sdrDb(truth, slice));
    const wishes = (guides: readonly (Float32Array | null)[]): LayerWish[] =>
      roles.map((role, place) => ({ role, guide: guides[place] ? [guides[place]] : null }));
    const apart = (guides: readonly (Float32Array | null)[]) => {
      const { layers, left } = takeApart([slice], RATE, {
        layers: wishes(guides),
        ring: null,
        softEdgePercent: 30,
        attacks: 'both',
        pulls: NO_PULLS,
      });
      return [...layers.map(([samples]) => samples!), left[0]!];
    };
    const ways = {
      'both guides': () => apart([low.again, high.again]),
      'a guide for the hat': () => apart([null, high.again]),
      'by role alone': () => apart([null, null]),
      'median filters': () => medianFiltered(slice, spectrographFor(RATE)),
    };
    for (const [way, run] of Object.entries(ways)) {
      const found = run();
      const result = (results[way] ??= { gainDb: [], attackDb: [], residualDb: -Infinity });
      result.gainDb.push((sdrDb(first, found[0]!) + sdrDb(second, found[1]!) - plainDb[0]! - plainDb[1]!) / 2);
      for (const [place, truth] of truths.entries())
        result.attackDb.push(levelDb(found[place]!, ATTACK_FRAMES) - levelDb(truth, ATTACK_FRAMES));
      const left = slice.map((value, i) => found.reduce((rest, layer) => rest - layer[i]!, value));
      result.residualDb = Math.max(result.residualDb, levelDb(left) - levelDb(slice));
    }
  }
  return results;
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const tenth = (values: readonly number[]) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 10)]!;

/** How much a drum that was struck into the ring of another one is like itself when the ring is taken out. */
function measureRing(ringing: Sound[], struck: Sound[]): Record<string, number[]> {
  const random = seededRandom(3);
  const pick = (list: Sound[]) => list[Math.floor(random() * list.length)]!;
  const results: Record<string, number[]> = {};
  for (let mix = 0; mix < MIXES; mix++) {
    const [first, second] = [pick(ringing), pick(struck)];
    const gap = Math.round((0.12 + 0.15 * random()) * RATE);
    const frames = Math.round((0.12 + 0.12 * random()) * RATE);
    const alone = placed(first.samples, gap + frames, 0, 0.5 + random());
    const own = placed(second.samples, frames, 0, 0.7);
    const slice = own.map((value, i) => value + alone[gap + i]!);
    const wish = { percent: 100, fromSeconds: 0, untilSeconds: 8, leavesLow: false, before: [alone.slice(0, gap)] };
    for (const [way, where] of [
      ['heard alone elsewhere', [first.samples]],
      ['carried on', null],
    ] as const) {
      const layers = [{ role: 'kick' as const, guide: null }];
      const ring = { ...wish, alone: where };
      const apart = takeApart([slice], RATE, { layers, ring, softEdgePercent: 30, attacks: 'both', pulls: NO_PULLS });
      (results[way] ??= []).push(sdrDb(own, apart.layers[0]![0]!) - sdrDb(own, slice));
    }
  }
  return results;
}

const RINGS = [
  ['openHat', 'kick'],
  ['openHat', 'snare'],
  ['crash', 'snare'],
  ['ride', 'snare'],
] as const;

export async function benchApart(folder: string): Promise<void> {
  const sets = await soundsOf(folder);
  const print = (...cells: string[]) => process.stdout.write(`| ${cells.join(' | ')} |\n`);
  print(
    'two struck together',
    '',
    'known from',
    'SDR above plain cutting, dB',
    'worst tenth',
    'attacks, worst tenth',
    'residual',
  );
  print('---', '---', '---', '---', '---', '---', '---');
  for (const [name, of] of Object.entries(sets)) {
    for (const roles of PAIRS) {
      for (const [way, { gainDb, attackDb, residualDb }] of Object.entries(
        measure(of(roles[0]), of(roles[1]), roles),
      )) {
        const numbers = [mean(gainDb), tenth(gainDb), tenth(attackDb), residualDb].map((value) => value.toFixed(1));
        print(roles.join(' and '), name, way, ...numbers);
      }
    }
  }
  const sounds = await readSounds(folder);
  if (!sounds) return;
  process.stdout.write('\n');
  print('ring of', 'into', 'known from', 'SDR of what is struck above plain cutting, dB', 'worst tenth');
  print('---', '---', '---', '---', '---');
  const of = (role: string) =>
    sounds.hits
      .filter((hit) => hit.role === role)
      .map(({ offset, frames }) => sounds.hitAudio.subarray(offset, offset + frames))
      .map((samples) => ({ samples, again: samples }));
  for (const [ringing, struck] of RINGS) {
    for (const [way, gains] of Object.entries(measureRing(of(ringing), of(struck))))
      print(ringing, struck, way, mean(gains).toFixed(1), tenth(gains).toFixed(1));
  }
}
