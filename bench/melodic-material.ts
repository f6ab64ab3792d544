/**
 * Melodic loops with known starts, made by arithmetic: notes under a pedal, chords that follow each other with and without
 * gaps, bells, a bass that is let go, sung syllables. And what old records and rooms do to any loop.
 */
import { filterInto, highPass, lowPass } from '#core/dsp/biquad.ts';
import { seededRandom, type Random } from '#core/units/random.ts';
import { between, oneOf, RATE } from './tempo-material.ts';

/** Where a sound begins; soft ones rise over so many frames. */
export interface MadeStart {
  frame: number;
  riseFrames: number;
}

export interface MelodicLoop {
  kind: MelodicKind;
  samples: Float32Array;
  starts: MadeStart[];
}

export const MELODIC_KINDS = [
  'pedal',
  'chords',
  'bells',
  'organ',
  'swells',
  'bass',
  'sung',
  'held notes',
  'tones',
] as const;
export type MelodicKind = (typeof MELODIC_KINDS)[number];

const SCALES = [
  [0, 2, 3, 5, 7, 8, 10],
  [0, 2, 4, 5, 7, 9, 11],
];
const VOWELS_HZ = [
  [700, 1150, 2600],
  [400, 2000, 2700],
  [450, 850, 2500],
  [300, 870, 2250],
];
const hzOf = (midi: number) => 440 * 2 ** ((midi - 69) / 12);

/** A sound of so many seconds from what it is at a time, faded in and out. */
function made(seconds: number, inSeconds: number, outSeconds: number, at: (time: number) => number): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    const time = i / RATE;
    return at(time) * Math.max(0, Math.min(1, time / inSeconds, (seconds - time) / outSeconds));
  });
}

const filtered = (signal: Float32Array, section: ReturnType<typeof lowPass>): Float32Array<ArrayBuffer> => {
  const out = new Float32Array(signal.length);
  filterInto(section, signal, out);
  return out;
};
const saw = (phase: number) => 2 * (phase - Math.floor(phase)) - 1;
const sine = (cycles: number) => Math.sin(2 * Math.PI * cycles);

/** Struck strings that are not damped: partials a little sharp, the higher the shorter (H. Fletcher, 1964: inharmonicity). */
function struck(midi: number, seconds: number, bright: number): Float32Array {
  const hz = hzOf(midi);
  return made(seconds, 0.002, 0.05, (time) => {
    let sum = 0;
    for (let k = 1; k <= 8; k++)
      sum += (sine(hz * k * Math.sqrt(1 + 4e-4 * k * k) * time) * Math.exp(-time * (0.7 + 0.4 * k))) / k ** bright;
    return sum;
  });
}

/** Several saws a little apart, through a low-pass: bowed and synthetic chords. */
function sawChord(
  midis: readonly number[],
  seconds: number,
  rise: number,
  fall: number,
  cutHz: number,
  random: Random,
) {
  const voices = midis.flatMap((midi) =>
    [0, 1].map(() => ({ hz: hzOf(midi) * (1 + 0.004 * (random() - 0.5)), at: random() })),
  );
  const raw = made(seconds, rise, fall, (time) => voices.reduce((sum, { hz, at }) => sum + saw(hz * time + at), 0));
  return filtered(raw, lowPass(cutHz, 0.7, RATE));
}

function organChord(midis: readonly number[], seconds: number, rise: number): Float32Array {
  const drawn = [1, 0.7, 0.4, 0.25];
  return made(seconds, rise, rise, (time) => {
    let sum = 0;
    for (const midi of midis)
      drawn.forEach((level, k) => (sum += level * sine(hzOf(midi) * (k + 1) * time + 0.37 * midi * (k + 1))));
    return sum;
  });
}

/** A vowel: a source through three resonances, at equal level the lower the louder. */
function vowel(midi: number, seconds: number, rise: number, random: Random): Float32Array {
  const sway = 0.1 + 0.15 * random();
  let phase = 0;
  const source = made(seconds, rise, 0.06, (time) => {
    phase += (hzOf(midi) * 2 ** ((sway * sine(5.3 * time)) / 12)) / RATE;
    return saw(phase);
  });
  const out = new Float32Array(source.length);
  oneOf(VOWELS_HZ, random).forEach((hz, k) => {
    const band = filtered(filtered(source, lowPass(hz, 6, RATE)), highPass(hz * 0.9, 1, RATE));
    for (let i = 0; i < out.length; i++) out[i]! += band[i]! * [1, 0.5, 0.3][k]!;
  });
  return out;
}

/** A consonant of so many seconds: noise that swells and falls. */
function hissed(seconds: number, random: Random): Float32Array {
  const noise = made(seconds, seconds / 2, seconds / 2, () => 2 * random() - 1);
  return filtered(noise, highPass(between([2500, 5000], random), 0.7, RATE));
}

interface Laid {
  /** In beats. */
  at: number;
  sound: Float32Array;
  level: number;
  riseSeconds: number;
  /** What belongs to another start: it has none of its own. */
  isFollower?: boolean;
}

const MAKE: Record<MelodicKind, (beat: number, random: Random) => Laid[]> = {
  pedal: (_beat, random) => {
    const scale = oneOf(SCALES, random);
    const bright = between([1, 1.8], random);
    const length = between([1.2, 3.5], random);
    return [0, 1, 2, 3].flatMap((bar) => {
      const degree = Math.floor(random() * 7);
      const chord = [0, 2, 4].map((k) => 57 + scale[(degree + k) % 7]! - (degree + k >= 7 ? 12 : 0));
      const laid: Laid[] = [{ at: 4 * bar, sound: struck(chord[0]! - 24, length, bright), level: 0.8, riseSeconds: 0 }];
      for (let step = 1; step < 8; step++) {
        if (random() < 0.3) continue;
        const midi = oneOf(chord, random) + (random() < 0.25 ? 12 : 0);
        laid.push({
          at: 4 * bar + step / 2,
          sound: struck(midi, length, bright),
          level: between([0.2, 0.7], random),
          riseSeconds: 0,
        });
      }
      return laid;
    });
  },
  chords: (beat, random) => {
    const scale = oneOf(SCALES, random);
    const ratio = oneOf([1, 2, 14], random);
    const depth = between([0.3, 2], random);
    return steps(16, 0.45, 2, random).map((at, place, all) => {
      const degree = Math.floor(random() * 7);
      const notes = [0, 2, 4, 6].map((k) => hzOf(50 + scale[(degree + k) % 7]! + (degree + k >= 7 ? 12 : 0)));
      const seconds = between([0.5, 1], random) * ((all[place + 1] ?? 16) - at) * beat;
      const fall = between([1, 4], random);
      const sound = made(
        seconds,
        0.003,
        oneOf([0.01, 0.03, 0.08], random),
        (time) =>
          notes.reduce(
            (sum, hz) => sum + sine(hz * time + (depth / 6) * Math.exp(-5 * time) * sine(hz * ratio * time)),
            0,
          ) * Math.exp(-fall * time),
      );
      return { at, sound, level: between([0.5, 1], random) * 0.3, riseSeconds: 0 };
    });
  },
  bells: (_beat, random) => {
    const scale = oneOf(SCALES, random);
    const ratio = oneOf([1.41, 3.5, 2], random);
    return steps(16, 0.35, 4, random).map((at) => {
      const hz = hzOf(69 + oneOf(scale, random) + 12 * Math.floor(random() * 2));
      const sound = made(
        1.5,
        0.001,
        0.1,
        (time) => sine(hz * time + 0.35 * Math.exp(-3 * time) * sine(hz * ratio * time)) * Math.exp(-3 * time),
      );
      return { at, sound, level: between([0.4, 1], random), riseSeconds: 0 };
    });
  },
  organ: (beat, random) => {
    const rise = between([0.004, 0.02], random);
    return changes(oneOf([2, 4], random), random).map(({ at, beats, midis }) => ({
      at,
      sound: organChord(midis, beats * beat + rise, rise),
      level: 0.15,
      riseSeconds: 0,
    }));
  },
  swells: (beat, random) => {
    const rise = between([0.03, 0.25], random);
    const over = between([0.02, 0.4], random);
    const cut = between([900, 5000], random);
    return changes(oneOf([2, 4], random), random).map(({ at, beats, midis }) => ({
      at,
      sound: sawChord(midis, beats * beat + over, rise, over, cut, random),
      level: 0.1,
      riseSeconds: rise,
    }));
  },
  bass: (beat, random) => {
    const cut = between([250, 1200], random);
    return steps(16, 0.5, 2, random).map((at, place, all) => {
      const seconds = between([0.3, 0.95], random) * Math.min(2, (all[place + 1] ?? 16) - at) * beat;
      const hz = hzOf(oneOf([29, 31, 33, 33, 36, 38, 40, 45], random));
      const sound = filtered(
        made(seconds, 0.001, oneOf([0.004, 0.01, 0.03], random), (time) => saw(hz * time + 0.5)),
        lowPass(cut, 0.7, RATE),
      );
      return { at, sound, level: between([0.6, 1], random), riseSeconds: 0 };
    });
  },
  sung: (beat, random) =>
    steps(8, 0.5, 2, random).flatMap((at, place, all) => {
      const seconds = Math.min(2, (all[place + 1] ?? 8) - at) * beat * between([0.7, 0.97], random);
      const rise = between([0.015, 0.05], random);
      const sound = vowel(oneOf([52, 55, 57, 60, 62, 64], random), seconds, rise, random);
      const level = between([0.5, 1], random);
      if (random() < 0.4) return [{ at, sound, level, riseSeconds: rise }];
      const before = between([0.03, 0.09], random);
      const hiss = hissed(before, random);
      const first: Laid = {
        at: at - before / beat,
        sound: hiss,
        level: level * between([0.03, 0.2], random),
        riseSeconds: before / 2,
      };
      return [first, { at, sound, level, riseSeconds: rise, isFollower: true }];
    }),
  // Of one to three harmonics, each melting into the next.
  tones: (beat, random) => {
    const melt = between([0.015, 0.09], random);
    const harmonics = 1 + Math.floor(random() * 3);
    let last = -1;
    return steps(16, 0.4, 1, random).map((at, place, all) => {
      let step = Math.floor(random() * 7);
      if (step === last) step = (step + 2) % 7;
      last = step;
      const hz = hzOf(48 + SCALES[0]![step]! + 12 * Math.floor(random() * 2));
      const sound = made(((all[place + 1] ?? 16) - at) * beat + melt, melt, melt, (time) => {
        let sum = 0;
        for (let k = 1; k <= harmonics; k++) sum += sine(k * hz * time) / k;
        return sum;
      });
      return { at, sound, level: between([0.25, 0.35], random), riseSeconds: melt };
    });
  },
  'held notes': (beat, random) => {
    const rise = between([0.005, 0.03], random);
    const cut = between([700, 5000], random);
    return steps(16, 0.4, 2, random).map((at, place, all) => ({
      at,
      sound: sawChord(
        [45 + oneOf(SCALES[0]!, random) + 12 * Math.floor(random() * 2)],
        ((all[place + 1] ?? 16) - at) * beat + 0.01,
        rise,
        0.02,
        cut,
        random,
      ),
      level: between([0.15, 0.3], random),
      riseSeconds: rise,
    }));
  },
};

/** Places of a grid that are played, the first always. */
function steps(beats: number, share: number, aBeat: number, random: Random): number[] {
  return Array.from({ length: beats * aBeat }, (_, step) => step / aBeat).filter((at) => at === 0 || random() < share);
}

/** Chords that follow each other over 16 beats, never the same twice. */
function changes(beats: number, random: Random): { at: number; beats: number; midis: number[] }[] {
  const scale = oneOf(SCALES, random);
  const root = 40 + Math.floor(random() * 12);
  let last = -1;
  return Array.from({ length: 16 / beats }, (_, place) => {
    let degree = Math.floor(random() * 7);
    if (degree === last) degree = (degree + 3) % 7;
    last = degree;
    const midis = [0, 2, 4, 6].map((k) => root + scale[(degree + k) % 7]! + (degree + k >= 7 ? 12 : 0));
    return { at: place * beats, beats, midis: random() < 0.5 ? midis.slice(0, 3) : midis };
  });
}

/** A loop of a kind; the same for the same seed. */
export function makeMelody(kind: MelodicKind, seed: number): MelodicLoop {
  const random = seededRandom(seed);
  const beat = 60 / between([70, 145], random);
  const laid = MAKE[kind](beat, random);
  const samples = new Float32Array(Math.round((Math.max(...laid.map(({ at }) => at)) + 2) * beat * RATE));
  const starts: MadeStart[] = [];
  for (const { at, sound, level, riseSeconds, isFollower } of laid) {
    const frame = Math.max(0, Math.round((at * beat + (at > 0 ? between([-0.006, 0.006], random) : 0)) * RATE));
    for (let i = 0; i < sound.length && frame + i < samples.length; i++) samples[frame + i]! += sound[i]! * level;
    if (!isFollower) starts.push({ frame, riseFrames: Math.round(riseSeconds * RATE) });
  }
  return { kind, samples, starts: starts.sort((a, b) => a.frame - b.frame) };
}

/** A room, a hum of noise, a record's crackle, the loss of the heights: what happens to loops on their way. */
export function aged(samples: Float32Array, seed: number): Float32Array {
  const random = seededRandom(seed);
  const top = samples.reduce((most, one) => Math.max(most, Math.abs(one)), 1e-9);
  let out: Float32Array<ArrayBuffer> = Float32Array.from(samples, (one) => one / top);
  if (random() < 0.5) out = inRoom(out, random);
  // Saturation that is never twice the same, as the modulation noise of tape is not (common practice).
  if (random() < 0.3) out = out.map((one) => Math.tanh(between([1.1, 1.3], random) * one));
  if (random() < 0.4) out = filtered(out, lowPass(between([3500, 9000], random), 0.7, RATE));
  if (random() < 0.35) crackle(out, random);
  if (random() < 0.5) {
    const level = 10 ** (between([-75, -42], random) / 20);
    out = out.map((one) => one + level * (2 * random() - 1));
  }
  return out;
}

/** Eight echoes that go round (M. Schroeder, 1962, without his all-passes). */
function inRoom(dry: Float32Array<ArrayBuffer>, random: Random): Float32Array<ArrayBuffer> {
  const wet = dry.slice();
  const level = between([0.03, 0.12], random);
  const seconds = between([0.3, 1.6], random);
  for (let k = 0; k < 8; k++) {
    const delay = Math.round(between([0.021, 0.067], random) * RATE);
    const back = 10 ** ((-3 * delay) / (seconds * RATE));
    const line = dry.slice();
    for (let i = delay; i < line.length; i++) line[i]! += back * line[i - delay]!;
    for (let i = delay; i < wet.length; i++) wet[i]! += level * line[i - delay]!;
  }
  return wet;
}

/** Scratches of a tenth of a millisecond to one, at random, most of them faint. */
function crackle(into: Float32Array, random: Random): void {
  const count = Math.round((between([3, 25], random) * into.length) / RATE);
  const loudness = between([0.03, 0.3], random);
  const isRinging = random() < 0.5;
  for (let k = 0; k < count; k++) {
    const at = Math.floor(random() * into.length);
    const level = -loudness * Math.log(1 - random()) * (random() < 0.5 ? -1 : 1);
    const frames = Math.round(between([2, 45], random));
    for (let i = 0; i < frames && at + i < into.length; i++) {
      const bow = Math.sin((Math.PI * (i + 1)) / (frames + 1)) ** 2;
      into[at + i]! += level * bow * (isRinging ? 2 * random() - 1 : 1);
    }
  }
}
