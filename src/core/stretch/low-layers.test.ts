import { describe, expect, it } from 'vitest';
import { sine } from '../../../tests/support/signals.ts';
import { addSamples } from '../dsp/mixing.ts';
import { runningMeans } from '../dsp/running-means.ts';
import { seededRandom } from '../units/random.ts';
import { partLows } from './low-layers.ts';
import { retime } from './retime.ts';

const RATE = 44100;
const STEP = 11_025;
const STEPS = 8;

/** A kick drum of 58 Hz on every fourth step, a hi-hat on every one: `step` frames apart, each sound in its own time. */
function kicksAndHats(step: number): Float32Array {
  const random = seededRandom(3);
  const hat = Float32Array.from({ length: 3_000 }, (_, i) => 0.1 * Math.exp(-i / 700) * (random() - random()));
  const out = new Float32Array(step * STEPS);
  for (let k = 0; k < STEPS; k++) {
    hat.forEach((value, i) => {
      // Its difference: next to no bass.
      if (k * step + i < out.length) out[k * step + i]! += value - (hat[i - 1] ?? 0);
    });
    if (k % 4) continue;
    for (let i = 0; k * step + i < out.length; i++) {
      out[k * step + i]! += 0.8 * Math.exp((-14 * i) / RATE) * Math.sin((2 * Math.PI * 58 * i) / RATE);
    }
  }
  return out;
}

const everyStep = (step: number) => Array.from({ length: STEPS + 1 }, (_, k) => k * step);
const bassOf = (samples: Float32Array) => runningMeans(samples, 79);

describe('the bass of drums', () => {
  it.each([
    [0.7, -20],
    // Here it is 40 dB softer than the kick drum was.
    [1.43, -10],
  ])('under a hi-hat is what rings of the kick drum at its new time, at %f of the length', (ratio, mostDb) => {
    const step = Math.round(STEP * ratio);
    const ideal = bassOf(kicksAndHats(step));
    const attacks = everyStep(STEP)
      .slice(0, -1)
      .map((frame) => ({ frame }));
    const ways = { mode: 'stretch', ratio: step / STEP, semitones: 0, tail: 'ring', material: 'drums' } as const;
    const source = { sampleRate: RATE, channels: [kicksAndHats(STEP)] };
    const result = bassOf(retime(source, attacks, ways).channels[0]!);
    // What the source has there, copied, is as wrong as nothing, or worse.
    const copied = bassOf(source.channels[0]!);
    let [error, without, power] = [0, 0, 0];
    for (const k of [1, 5]) {
      for (let i = 0; i < 1_500; i++) {
        const wanted = ideal[k * step + i]!;
        error += (result[k * step + i]! - wanted) ** 2;
        without += (copied[k * STEP + i]! - wanted) ** 2;
        power += wanted ** 2;
      }
    }
    expect(10 * Math.log10(error / power)).toBeLessThan(mostDb);
    expect(10 * Math.log10(without / power)).toBeGreaterThan(-6);
  });

  it('and the rest are the sound itself where nothing moves', () => {
    const sound = kicksAndHats(STEP);
    const { body, lows } = partLows([sound, sound], RATE, everyStep(STEP), everyStep(STEP))!;
    expect(body[0]).toBe(body[1]);
    expect(lows).toHaveLength(1);
    const whole = body[0].slice();
    for (const { startFrame, samples, gain } of lows[0]!) addSamples(whole, startFrame, samples, gain);
    const errors = sound.map((value, i) => Math.abs(whole[i]! - value));
    expect(errors.reduce((most, error) => Math.max(most, error))).toBeLessThan(1e-6);
  });

  it('is left alone where it holds, and where a note ends later than the next attack comes', () => {
    const steady = sine(65, 2);
    expect(partLows([steady, steady], RATE, everyStep(STEP), everyStep(15_000))).toBeNull();
    const short = steady.map((value, i) => (i % STEP < 9_000 ? value : 0));
    expect(partLows([short, short], RATE, everyStep(STEP), everyStep(8_000))).toBeNull();
  });
});
