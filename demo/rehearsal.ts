/** A made-up rehearsal of some minutes: talk, the whole band, and in between the drums alone. One channel, as a phone hears it. */
import type { AudioData } from '#core/dsp/audio.ts';
import { seededRandom, type Random } from '#core/units/random.ts';
import { SAMPLE_RATE } from './loop-builder.ts';

/** What is played, and for how many rounds; a number is talk of so many seconds. */
export type Turn = { loops: readonly AudioData[]; rounds: number } | number;

const VOICES_HZ = [112, 148, 195];
const FADE_FRAMES = 600;

/** Vowels that glide, with pauses; what they say nobody knows. */
function talk(seconds: number, random: Random): Float32Array {
  const out = new Float32Array(Math.round(seconds * SAMPLE_RATE));
  let at = 0;
  while (at < out.length) {
    const voice = VOICES_HZ[Math.floor(random() * VOICES_HZ.length)]! * (0.9 + 0.25 * random());
    const [first, second] = [300 + 500 * random(), 900 + 1300 * random()];
    const length = Math.round((0.08 + 0.18 * random()) * SAMPLE_RATE);
    let phase = 0;
    for (let i = 0; i < length && at + i < out.length; i++) {
      const share = i / length;
      phase += (2 * Math.PI * voice * (1 - 0.12 * share)) / SAMPLE_RATE;
      let sum = 0;
      for (let k = 1; k * voice < 4200; k++) {
        const gain = 1 / (1 + ((k * voice - first) / 120) ** 2) + 0.6 / (1 + ((k * voice - second) / 150) ** 2);
        sum += gain * Math.sin(k * phase);
      }
      out[at + i] = 0.07 * sum * Math.sin(Math.PI * share) ** 0.7;
    }
    at += Math.round(length * (0.9 + 0.3 * random()) + (random() < 0.2 ? 0.4 * SAMPLE_RATE : 0));
  }
  return out;
}

function played({ loops, rounds }: Exclude<Turn, number>): Float32Array {
  const frames = loops[0]!.channels[0]!.length * rounds;
  const out = new Float32Array(frames);
  for (const { channels } of loops) {
    const [left, right] = [channels[0]!, channels[1] ?? channels[0]!];
    for (let i = 0; i < frames; i++) out[i]! += 0.3 * (left[i % left.length]! + right[i % right.length]!);
  }
  return out;
}

export function rehearsal(turns: readonly Turn[]): AudioData {
  const random = seededRandom(311);
  const pieces = turns.map((turn) => (typeof turn === 'number' ? talk(turn, random) : played(turn)));
  const out = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    for (let i = 0; i < piece.length; i++) out[at + i] = piece[i]! * Math.min(1, (piece.length - i) / FADE_FRAMES);
    at += piece.length;
  }
  let peak = 1e-9;
  for (let i = 0; i < out.length; i++) {
    out[i]! += 0.0015 * (random() - 0.5);
    peak = Math.max(peak, Math.abs(out[i]!));
  }
  return { sampleRate: SAMPLE_RATE, channels: [out.map((one) => (0.89 * one) / peak)] };
}
