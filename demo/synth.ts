/** A few synthesised notes for the melodic demo loops. */
import { midiToHz } from '#core/units/pitch.ts';
import type { Random } from '#core/units/random.ts';
import { SAMPLE_RATE } from './loop-builder.ts';

const TAU = 2 * Math.PI;

function note(seconds: number, releaseSeconds: number, sampleAt: (t: number) => number): Float32Array {
  const out = new Float32Array(Math.round((seconds + releaseSeconds) * SAMPLE_RATE));
  for (let i = 0; i < out.length; i++) {
    const t = i / SAMPLE_RATE;
    const attack = Math.min(1, t / 0.002);
    const release = t < seconds ? 1 : Math.max(0, 1 - (t - seconds) / releaseSeconds) ** 2;
    out[i] = sampleAt(t) * attack * release;
  }
  return out;
}

/** A struck reed: two modulated sines and a tine that dies away. */
export function reedNote(midi: number, seconds: number): Float32Array {
  const hz = midiToHz(midi);
  return note(seconds, 0.12, (t) => {
    const body = Math.sin(TAU * hz * t + 1.6 * Math.exp(-4 * t) * Math.sin(TAU * hz * t));
    const tine = 0.35 * Math.exp(-14 * t) * Math.sin(TAU * hz * 7.02 * t);
    return (0.6 * body + tine) * Math.exp(-1.4 * t);
  });
}

/** A plucked low string: falling harmonics, the high ones first. */
export function stringNote(midi: number, seconds: number): Float32Array {
  const hz = midiToHz(midi);
  return note(seconds, 0.03, (t) => {
    let sum = 0;
    for (let harmonic = 1; harmonic <= 14; harmonic++) {
      sum += (Math.sin(TAU * hz * harmonic * t) / harmonic) * Math.exp(-t * (1.2 + 0.9 * harmonic));
    }
    return sum * 0.6;
  });
}

/** A bell: partials that do not fit each other, each with a decay of its own. */
export function bellNote(midi: number, seconds: number): Float32Array {
  const hz = midiToHz(midi);
  const partials: [ratio: number, level: number, decay: number][] = [
    [0.5, 0.25, 0.9],
    [1, 0.6, 1.3],
    [1.19, 0.3, 1.9],
    [2, 0.35, 2.4],
    [2.74, 0.2, 4],
    [4.07, 0.12, 7],
  ];
  return note(seconds, 0.2, (t) =>
    partials.reduce(
      (sum, [ratio, level, decay]) => sum + level * Math.sin(TAU * hz * ratio * t) * Math.exp(-decay * t),
      0,
    ),
  );
}

/** A short breath of noise, as of a brush drawn over a skin. */
export function brushNoise(random: Random, seconds: number): Float32Array {
  let low = 0;
  return note(seconds, seconds, (t) => {
    const white = random() * 2 - 1;
    low += 0.35 * (white - low);
    return (white - low) * 0.5 * Math.sin(Math.PI * Math.min(1, t / (2 * seconds))) ** 0.7;
  });
}
