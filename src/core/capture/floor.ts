/**
 * What an input sounds like when nothing is played: its level, and a filter that takes it out. Hum and the deep part of noise
 * would hide soft hits; what the filter leaves is as loud everywhere: see dsp/linear-prediction.ts.
 */
import { predictFromLags } from '../dsp/linear-prediction.ts';

const ORDER = 16;
/** Added to the power, so that silence has a floor, too: 96 dB down. */
const LEAST_POWER = 10 ** (-96 / 10);

export interface Floor {
  /** Of the input itself, in dB of full scale (mean square). */
  levelDb: number;
  /** How much louder what the filter leaves is to be shown, in dB: its floor is that of the input. */
  liftDb: number;
  /** Predicts a sample from those before it, the latest first. */
  prediction: Float64Array;
}

/** Reads the floor from a stretch in which nothing is played. */
export function readFloor(samples: Float32Array): Floor {
  const lags = new Float64Array(ORDER + 1);
  const count = samples.length;
  for (let lag = 0; lag <= ORDER; lag++) {
    let sum = 0;
    for (let i = lag; i < count; i++) sum += samples[i]! * samples[i - lag]!;
    lags[lag] = sum / Math.max(1, count);
  }
  const power = lags[0]! + LEAST_POWER;
  lags[0] = power * (1 + 1e-9);
  const prediction = new Float64Array(ORDER);
  const left = predictFromLags(lags, lags[0], prediction);
  return {
    levelDb: 10 * Math.log10(power),
    liftDb: 10 * Math.log10(power / Math.max(LEAST_POWER, left)),
    prediction,
  };
}

/** Of stretches that lie over each other by three quarters this is the quietest but so many: the very quietest is so by chance. */
const BY_CHANCE = 4;

/** A quiet stretch of an input: what it sounds like when nothing is played, as far as it ever pauses. */
export function quietStretch(samples: Float32Array, stretchFrames: number): Float32Array {
  if (samples.length <= stretchFrames) return samples;
  const step = Math.max(1, stretchFrames >> 2);
  const stretches: { start: number; power: number }[] = [];
  for (let start = 0; start + stretchFrames <= samples.length; start += step) {
    let power = 0;
    for (let i = start; i < start + stretchFrames; i++) power += samples[i]! * samples[i]!;
    stretches.push({ start, power });
  }
  stretches.sort((a, b) => a.power - b.power);
  const [quietest] = stretches;
  const found = stretches[Math.min(BY_CHANCE, stretches.length - 1)]!;
  // Where there is one pause alone, that is it.
  const { start } = found.power < 1.3 * quietest!.power ? found : quietest!;
  return samples.subarray(start, start + stretchFrames);
}
