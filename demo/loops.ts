/** The sounds of the demo: music for a made-up radio play about the last night ferry to the island of Odrun. */
import type { AudioData } from '#core/dsp/audio.ts';
import type { HitName } from './hits.ts';
import { LoopBuilder, type LoopSettings } from './loop-builder.ts';
import { quaysideBox } from './quayside.ts';
import { rehearsal } from './rehearsal.ts';
import { bellNote, brushNoise, reedNote, stringNote } from './synth.ts';

type Hits = ReadonlyMap<HitName, Float32Array>;

/** One line of a score: a hit for each bar string, a digit 1-9 for its level on each sixteenth, a dot for none. */
type Score = readonly [hit: HitName, pan: number, ...bars: string[]][];

export interface DemoLoop {
  name: string;
  /** What it is found by on the shelf. */
  tags: string[];
  make: (hits: Hits) => AudioData;
  /** Where it comes from, if it was captured. */
  origin?: string;
}

function drumLoop(settings: LoopSettings, score: Score): (hits: Hits) => AudioData {
  return (hits) => {
    const loop = new LoopBuilder(settings);
    for (const [hit, pan, ...bars] of score) {
      const sound = hits.get(hit);
      if (!sound) throw new RangeError(`there is no hit called ${hit}`);
      [...bars.join('').replaceAll(' ', '')].forEach((digit, step) => {
        if (digit !== '.') loop.add(sound, { step, level: (Number(digit) / 9) ** 1.4, pan });
      });
    }
    return loop.finish();
  };
}

const deckhand = drumLoop({ tempoBpm: 101, bars: 2, seed: 11, looseMs: 3 }, [
  ['kick-deep', 0, '9.....8. ..9.....', '9.....8. .89.....'],
  ['snare-full', 0.05, '....9... ....9...', '....9... ....9..5'],
  ['snare-soft', 0.05, '.......3 .2......', '.......3 .2..... '],
  ['hat', 0.3, '7.4.7.4. 7.4.7...', '7.4.7.4. 7.4.7.4.'],
  ['hat-open', 0.3, '........ ......6.', '........ ........'],
]);

const engineRoom = drumLoop({ tempoBpm: 172, bars: 2, seed: 23, looseMs: 2 }, [
  ['kick-tight', 0, '9.9..... ..9.....', '9.9..... ..9..8..'],
  ['snare-short', -0.05, '....9..4 .4..9..3', '....9..4 .4..9.57'],
  ['ride', 0.35, '6.5.6.5. 6.5.6.5.', '6.5.6.5. 6.5.6.5.'],
]);

const gangway = drumLoop({ tempoBpm: 88, bars: 2, swing: 63, seed: 37, looseMs: 6 }, [
  ['kick-tight', 0, '8......5 ..7.....', '8......5 ..7..5..'],
  ['snare-short', 0.1, '....7... ....7...', '....7... ....7...'],
  ['snare-soft', 0.1, '.3....2. .2....3.', '.3....2. .2.2..3.'],
  ['hat', -0.3, '6.36.366 .36.363.', '6.36.366 .36.3636'],
  ['rim', -0.1, '........ ........', '......5. ........'],
]);

const galley = drumLoop({ tempoBpm: 96, bars: 2, seed: 53, looseMs: 9 }, [
  ['plate', -0.5, '8.....6. ....7...', '8....... ..6.....'],
  ['cup', 0.4, '..7...5. .7...5..', '..7..... .7..5..6'],
  ['tin', 0.15, '....6... ........', '....6... ....8...'],
  ['bowl', -0.2, '........ 8.......', '........ 8.......'],
  ['block-a', 0.55, '.....4.. ......4.', '...4.... ......4.'],
]);

/** Chords as MIDI notes; one every half bar, the second a little early, as hands play. */
const SALTLAMP: readonly (readonly number[])[] = [
  [50, 57, 60, 65, 69],
  [50, 57, 60, 64, 67],
  [46, 53, 57, 62, 65],
  [46, 53, 57, 60, 65],
  [43, 50, 58, 62, 65],
  [43, 53, 58, 60, 65],
  [45, 52, 55, 61, 67],
  [45, 52, 55, 59, 67],
];

function saltlamp(): AudioData {
  const loop = new LoopBuilder({ tempoBpm: 101, bars: 4, seed: 71, looseMs: 4 });
  SALTLAMP.forEach((chord, half) => {
    const step = half * 8 - (half % 2 === 1 ? 1 : 0);
    chord.forEach((midi, voice) => {
      loop.add(reedNote(midi, loop.stepSeconds(6.4)), { step, level: 0.5, pan: (voice - 2) * 0.2 });
    });
  });
  return loop.finish();
}

/** Step, MIDI note and length in sixteenths. */
const WINCH: readonly [step: number, midi: number, steps: number][] = [
  [0, 38, 3],
  [3, 38, 1],
  [6, 45, 2],
  [8, 41, 3],
  [11, 43, 1],
  [14, 36, 2],
  [16, 34, 3],
  [19, 34, 1],
  [22, 41, 2],
  [24, 43, 2],
  [27, 45, 1],
  [28, 33, 2],
  [30, 36, 2],
];

function winch(): AudioData {
  const loop = new LoopBuilder({ tempoBpm: 101, bars: 2, seed: 89, looseMs: 2 });
  for (const [step, midi, steps] of WINCH) {
    loop.add(stringNote(midi, loop.stepSeconds(steps * 0.85)), { step, level: 0.8 });
  }
  return loop.finish();
}

const BUOY: readonly [step: number, midi: number][] = [
  [0, 74],
  [3, 69],
  [6, 77],
  [10, 72],
  [13, 76],
  [16, 74],
  [20, 81],
  [22, 79],
  [26, 69],
  [29, 72],
];

function buoyBells(): AudioData {
  const loop = new LoopBuilder({ tempoBpm: 101, bars: 2, seed: 97, looseMs: 5 });
  for (const [step, midi] of BUOY) loop.add(bellNote(midi, 1.1), { step, level: 0.5, pan: ((midi % 5) - 2) * 0.25 });
  for (let step = 0; step < 32; step += 8)
    loop.add(brushNoise(loop.random, 0.25), { step: step + 4, level: 0.06, pan: -0.4 });
  return loop.finish();
}

/** The band tries things, and talks. */
function boatDeck(hits: Hits): AudioData {
  const band = [saltlamp(), winch(), deckhand(hits)];
  return rehearsal([
    6,
    { loops: band, rounds: 1 },
    { loops: [deckhand(hits)], rounds: 2 },
    { loops: band.slice(0, 2), rounds: 1 },
    7,
    { loops: [gangway(hits)], rounds: 2 },
    9,
    { loops: band.slice(0, 2), rounds: 1 },
    { loops: [engineRoom(hits)], rounds: 4 },
    5,
    { loops: [galley(hits)], rounds: 2 },
    6,
  ]);
}

export const DEMO_LOOPS: readonly DemoLoop[] = [
  { name: 'Boat-deck rehearsal', tags: ['live'], make: boatDeck },
  { name: 'Deckhand break', tags: ['break'], make: deckhand },
  { name: 'Engine-room break', tags: ['break'], make: engineRoom },
  { name: 'Gangway brushes', tags: ['break', 'soft'], make: gangway },
  { name: 'Saltlamp chords', tags: ['chords'], make: saltlamp },
  { name: 'Winch bass', tags: ['bass'], make: winch },
  { name: 'Buoy bells', tags: ['found', 'bells'], make: buoyBells },
  { name: 'Galley clatter', tags: ['found'], make: galley },
  { name: 'Quayside box', tags: ['captured'], make: quaysideBox, origin: 'captured from the stand-in drum box' },
];
