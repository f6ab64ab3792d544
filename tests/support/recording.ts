/** A made-up rehearsal: talk, a break of drums, held chords, another break in another tempo, applause. */
import { seededRandom } from '#core/units/random.ts';

const RATE = 44100;

function drums(bpm: number, bars: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const step = (60 / bpm / 4) * RATE;
  const out = new Float32Array(Math.round(bars * 16 * step));
  const add = (at: number, seconds: number, sample: (i: number) => number) => {
    for (let i = 0; i < seconds * RATE && at + i < out.length; i++) out[at + i]! += sample(i);
  };
  for (let n = 0; n < bars * 16; n++) {
    const at = Math.round(n * step);
    const inBar = n % 16;
    const level = 0.8 + 0.2 * random();
    if ([0, 7, 10].includes(inBar)) {
      let phase = 0;
      add(at, 0.25, (i) => {
        phase += (2 * Math.PI * (48 + 90 * Math.exp(-i / 900))) / RATE;
        return 0.6 * level * Math.sin(phase) * Math.exp(-i / 3500);
      });
    }
    if (inBar === 4 || inBar === 12) {
      add(at, 0.2, (i) => level * Math.exp(-i / 2500) * (0.35 * (random() - 0.5) + 0.2 * Math.sin(i * 0.027)));
    }
    if (n % 2 === 0) {
      let before = 0;
      add(at, 0.05, (i) => {
        const noise = random() - 0.5;
        const sharp = noise - before;
        before = noise;
        return 0.2 * level * sharp * Math.exp(-i / 500);
      });
    }
  }
  return out;
}

function chords(seconds: number): Float32Array {
  return Float32Array.from({ length: seconds * RATE }, (_, i) => {
    const chord = Math.floor(i / RATE / 1.3);
    const within = (i % Math.round(1.3 * RATE)) / RATE;
    const root = [220, 196, 261.6, 174.6][chord % 4]!;
    const level = Math.min(1, within / 0.05) * 0.06;
    return level * [1, 1.26, 1.5, 2].reduce((sum, ratio) => sum + Math.sin(2 * Math.PI * root * ratio * (i / RATE)), 0);
  });
}

/** Vowels that come and go as they like. */
function talk(seconds: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(seconds * RATE);
  for (let at = 0; at < out.length;) {
    const length = Math.round((0.09 + 0.2 * random()) * RATE);
    const hz = 100 + 70 * random();
    const formant = 400 + 1500 * random();
    for (let i = 0; i < length && at + i < out.length; i++) {
      let sum = 0;
      for (let k = 1; k * hz < 4000; k++) {
        sum += Math.sin((2 * Math.PI * k * hz * i) / RATE) / (1 + ((k * hz - formant) / 150) ** 2);
      }
      out[at + i] = 0.12 * sum * Math.sin((Math.PI * i) / length) ** 0.7;
    }
    at += Math.round(length * (0.9 + random()));
  }
  return out;
}

function applause(seconds: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(seconds * RATE);
  for (let n = 0; n < seconds * 180; n++) {
    const at = Math.floor(random() * out.length);
    const decay = 150 + 300 * random();
    const level = 0.05 + 0.15 * random();
    for (let i = 0; i < 5 * decay && at + i < out.length; i++)
      out[at + i]! += level * Math.exp(-i / decay) * (random() - 0.5);
  }
  return out;
}

export interface Rehearsal {
  samples: Float32Array;
  sampleRate: number;
  breaks: { startFrame: number; endFrame: number; barFrames: number }[];
}

/** Some 50 seconds. */
export function rehearsal(): Rehearsal {
  const pieces = [talk(8, 3), drums(98, 4, 1), chords(8), drums(121, 4, 2), applause(9, 5), talk(5, 8)];
  const samples = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
  const places = pieces.map((_, n) => pieces.slice(0, n).reduce((sum, { length }) => sum + length, 0));
  for (const [n, piece] of pieces.entries()) samples.set(piece, places[n]);
  const breaks = [1, 3].map((n) => ({
    startFrame: places[n]!,
    endFrame: places[n]! + pieces[n]!.length,
    barFrames: pieces[n]!.length / 4,
  }));
  return { samples, sampleRate: RATE, breaks };
}
