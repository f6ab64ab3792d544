/**
 * Long recordings put together from loops of drums with known places, and from what is made to lie between them: talk,
 * applause, and music (chords and bass of the corpus, with and without drums over them).
 */
import { joined } from '#core/dsp/joined.ts';
import { resampleFine } from '#core/dsp/fine-resample.ts';
import { seededRandom, type Random } from '#core/units/random.ts';

export const RATE = 44100;

export interface LoopSound {
  name: string;
  samples: Float32Array;
  bars: number;
  isDrums: boolean;
}

/** Where drums play alone, and how long their bars are, in frames. */
export interface TrueBreak {
  name: string;
  startFrame: number;
  endFrame: number;
  barFrames: number;
}

const LEVEL = 0.12;
const FADE_FRAMES = 900;

function leveled(samples: Float32Array, level: number): Float32Array {
  let power = 1e-9;
  for (const one of samples) power += one * one;
  const gain = level / Math.sqrt(power / samples.length);
  return samples.map((one) => one * gain);
}

/** Syllables of a voice with moving formants, hissing consonants and pauses. */
function talk(seconds: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  let at = 0;
  const pitch = 90 + random() * 120;
  while (at < out.length) {
    if (random() < 0.15) {
      at += Math.round((0.1 + random() * 0.5) * RATE);
      continue;
    }
    const length = Math.round((0.08 + random() * 0.17) * RATE);
    const hiss = random() < 0.5 ? Math.round((0.03 + random() * 0.07) * RATE) : 0;
    const formants = [300 + random() * 500, 900 + random() * 1300, 2300 + random() * 800];
    const hz = pitch * (0.85 + random() * 0.4);
    const glide = (random() - 0.5) * 0.3;
    const level = 0.4 + random() * 0.6;
    let before = 0;
    for (let i = 0; i < hiss && at + i < out.length; i++) {
      const noise = random() - 0.5;
      out[at + i]! += (noise - before) * 0.5 * level * Math.sin((Math.PI * i) / hiss);
      before = noise;
    }
    let phase = 0;
    for (let i = 0; i < length && at + hiss + i < out.length; i++) {
      const share = i / length;
      phase += (2 * Math.PI * hz * (1 + glide * share)) / RATE;
      let sum = 0;
      for (let k = 1; k * hz < 5000; k++) {
        const gain = formants.reduce((all, formant) => all + 1 / (1 + ((k * hz - formant) / 110) ** 2), 0.02);
        sum += (gain * Math.sin(k * phase)) / k ** 0.3;
      }
      out[at + hiss + i]! += sum * level * Math.sin(Math.PI * share) ** 0.6 * 0.3;
    }
    at += hiss + Math.round(length * (0.85 + random() * 0.4));
  }
  return leveled(out, LEVEL);
}

/** Very many hands. */
function applause(seconds: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * RATE));
  const count = Math.round(seconds * (60 + random() * 300));
  for (let n = 0; n < count; n++) {
    const at = Math.floor(random() * out.length);
    const hz = 700 + random() * 1500;
    const decay = (0.003 + random() * 0.01) * RATE;
    const level = 0.2 + random();
    const turn = (2 * Math.PI * hz) / RATE;
    for (let i = 0; i < 5 * decay && at + i < out.length; i++) {
      out[at + i]! += level * Math.exp(-i / decay) * (random() - 0.5) * (1 + Math.sin(turn * i));
    }
  }
  return leveled(out, LEVEL);
}

function repeated(samples: Float32Array, frames: number): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => samples[i % samples.length]!);
}

const pick = <Item>(items: readonly Item[], random: Random) => items[Math.floor(random() * items.length)]!;

function music(seconds: number, loops: readonly LoopSound[], random: Random): Float32Array {
  const frames = Math.round(seconds * RATE);
  const out = repeated(
    leveled(
      pick(
        loops.filter(({ isDrums }) => !isDrums),
        random,
      ).samples,
      LEVEL,
    ),
    frames,
  );
  if (random() < 0.5) {
    const drums = repeated(
      leveled(
        pick(
          loops.filter(({ isDrums }) => isDrums),
          random,
        ).samples,
        LEVEL,
      ),
      frames,
    );
    for (let i = 0; i < frames; i++) out[i]! += drums[i]!;
  }
  return out;
}

export interface Recording {
  samples: Float32Array;
  breaks: TrueBreak[];
}

/** @param count breaks in it */
export function makeRecording(loops: readonly LoopSound[], count: number, seed: number): Recording {
  const random = seededRandom(seed * 101 + 3);
  const pieces: Float32Array[] = [];
  const breaks: TrueBreak[] = [];
  const filler = () => {
    const seconds = 6 + random() * 14;
    const which = random();
    if (which < 0.4) return music(seconds, loops, random);
    return which < 0.75 ? talk(seconds, random) : applause(seconds, random);
  };
  let at = 0;
  const add = (piece: Float32Array) => {
    const faded = piece.slice();
    for (let i = 0; i < FADE_FRAMES; i++) {
      // A break begins as it is; only what lies between fades.
      faded[faded.length - 1 - i]! *= i / FADE_FRAMES;
    }
    pieces.push(faded);
    at += faded.length;
  };
  add(filler());
  for (let n = 0; n < count; n++) {
    const { name, samples, bars } = pick(
      loops.filter(({ isDrums }) => isDrums),
      random,
    );
    const speed = 0.94 + random() * 0.12;
    const played = resampleFine(samples, speed, Math.round(samples.length / speed));
    const times = bars < 2 ? 2 + Math.floor(random() * 3) : 1 + Math.floor(random() * 3);
    const frames = played.length * times;
    breaks.push({ name, startFrame: at, endFrame: at + frames, barFrames: played.length / bars });
    add(repeated(leveled(played, LEVEL * (0.6 + random() * 0.8)), frames));
    add(filler());
    if (random() < 0.5) add(filler());
  }
  const samples = joined(pieces);
  const room = 0.0006 * random();
  for (let i = 0; i < samples.length; i++) samples[i]! += room * (random() - 0.5);
  return { samples, breaks };
}
