import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { decodeSoundFile } from '../formats/decode.ts';
import { seededRandom } from '../units/random.ts';
import { analyseSource, describeSlices } from './analyse-source.ts';
import { drumOdds } from './ears/hear-roles.ts';

const RATE = 44100;

/** A drum of 55 Hz that falls by 20 dB in so many seconds, with a click at its start. */
function kick(signal: Float32Array, at: number, gain: number, seconds: number): void {
  for (let i = at; i < signal.length; i++) {
    const t = (i - at) / RATE;
    const hz = 55 + 90 * Math.exp(-t * 40);
    signal[i]! += gain * 10 ** (-t / seconds) * Math.sin(2 * Math.PI * hz * t);
  }
}

/** Noise without its low part that is gone within so many seconds. */
function hat(signal: Float32Array, at: number, gain: number, seconds: number): void {
  const random = seededRandom(5);
  let [x1, x2] = [0, 0];
  for (let i = at; i < Math.min(signal.length, at + 3 * seconds * RATE); i++) {
    const x = random() - 0.5;
    signal[i]! += gain * Math.exp(-(i - at) / (seconds * RATE)) * (x - 2 * x1 + x2);
    [x1, x2] = [x, x1];
  }
}

const heardAt = (signal: Float32Array, from: number, to: number) => {
  const range = { startFrame: Math.round(from), endFrame: Math.round(to) };
  return describeSlices(analyseSource({ sampleRate: RATE, channels: [signal] }), [range])[0]!;
};
const roleAt = (signal: Float32Array, from: number, to: number) => heardAt(signal, from, to).role;

describe('what a slice is', () => {
  it('is heard of a drum and of a hat by themselves', () => {
    const signal = new Float32Array(RATE);
    kick(signal, 0, 0.8, 0.15);
    hat(signal, 0.6 * RATE, 0.2, 0.03);
    expect(roleAt(signal, 0, 0.3 * RATE)).toBe('kick');
    expect(roleAt(signal, 0.6 * RATE, 0.8 * RATE)).toBe('closed hat');
  });

  it.each([0.15, 0.5])('of a hat over a kick that rings for %f s is a hat: what is new counts', (seconds) => {
    const signal = new Float32Array(RATE);
    kick(signal, 0, 0.8, seconds);
    hat(signal, 0.2 * RATE, 0.15, 0.03);
    expect(roleAt(signal, 0.2 * RATE, 0.4 * RATE)).toBe('closed hat');
  });

  it('is a note if it has a pitch, and a chord if several sound at once', () => {
    const tones = (...hz: number[]) =>
      Float32Array.from({ length: RATE }, (_, i) => {
        const level = (0.3 * Math.min(1, i / 400) * Math.exp((-1.5 * i) / RATE)) / hz.length;
        return hz.reduce(
          (sum, f) =>
            sum + level * [1, 2, 3, 4].reduce((s, k) => s + Math.sin((2 * Math.PI * f * k * i) / RATE) / k, 0),
          0,
        );
      });
    const roleOf = (samples: Float32Array) => {
      const analysis = analyseSource({ sampleRate: RATE, channels: [samples] });
      return describeSlices(analysis, [{ startFrame: 0, endFrame: RATE }])[0]!.role;
    };
    expect(roleOf(tones(330))).toBe('note');
    expect(roleOf(tones(330, 392.4, 466.7, 554.4))).toBe('chord');
  });

  it('does not depend on how loud the file is', () => {
    const signal = new Float32Array(RATE);
    kick(signal, 0, 0.8, 0.2);
    hat(signal, 0.3 * RATE, 0.2, 0.03);
    const soft = signal.map((sample) => sample / 30);
    for (const [from, to] of [
      [0, 0.3],
      [0.3, 0.5],
    ] as const) {
      expect(roleAt(soft, from * RATE, to * RATE)).toBe(roleAt(signal, from * RATE, to * RATE));
    }
  });

  it('is always an answer, for silence and for slices of nothing, too', () => {
    const silence = new Float32Array(RATE);
    for (const [from, to] of [
      [0, 4400],
      [2200, 2201],
      [44_000, 44_100],
    ] as const) {
      expect(heardAt(silence, from, to)).toMatchObject({ role: 'other', roleConfidence: 0 });
      expect(drumOdds(silence, RATE, [{ startFrame: from, endFrame: to }])).toEqual([{ drums: 0, kick: 0, snare: 0 }]);
    }
  });

  it('is an answer in numbers for what begins late, for single samples and for what stands still, also in a loop', () => {
    const late = new Float32Array(2 * RATE);
    kick(late, RATE, 0.8, 0.15);
    const single = new Float32Array(2 * RATE);
    single[RATE] = 1;
    const faint = new Float32Array(2 * RATE).fill(1e-30);
    const still = new Float32Array(2 * RATE).fill(0.5);
    const slices = [0, 100, 0.5 * RATE, RATE - 1, RATE, RATE + 1, 1.6 * RATE, 2 * RATE - 1].map(
      (startFrame, i, all) => ({
        startFrame,
        endFrame: all[i + 1] ?? 2 * RATE,
      }),
    );
    for (const signal of [late, single, faint, still]) {
      const analysis = analyseSource({ sampleRate: RATE, channels: [signal] });
      const alone = [...slices, { startFrame: 0, endFrame: 2 * RATE }].flatMap((one) =>
        describeSlices(analysis, [one]),
      );
      for (const { roleConfidence, brightnessHz } of [...alone, ...describeSlices(analysis, slices)]) {
        expect(roleConfidence).toBeGreaterThanOrEqual(0);
        expect(roleConfidence).toBeLessThanOrEqual(1);
        expect(brightnessHz).toBeGreaterThanOrEqual(0);
      }
    }
    // It is heard from its start on only: what comes a second later is nothing that could be named.
    const analysis = analyseSource({ sampleRate: RATE, channels: [late] });
    const whole = describeSlices(analysis, [{ startFrame: 0, endFrame: 2 * RATE }])[0];
    expect(whole).toMatchObject({ role: 'other', roleConfidence: 0 });
  });

  it('is right for 19 of 20 hits in loops whose hits are known', async () => {
    const folder = 'tests/fixtures/loops';
    const { files } = JSON.parse(readFileSync(`${folder}/truth.json`, 'utf8')) as {
      files: Record<string, { onsets: { frame: number; roles: string[] }[] }>;
    };
    const names: Record<string, string> = {
      closedHat: 'closed hat',
      openHat: 'open hat',
      rimshot: 'rim',
      crash: 'cymbal',
      ride: 'cymbal',
    };
    let right = 0;
    let all = 0;
    for (const [name, { onsets }] of Object.entries(files)) {
      const { audio } = await decodeSoundFile(readFileSync(`${folder}/${name}`));
      const analysis = analyseSource(audio);
      const ranges = onsets.map(({ frame }, i) => ({
        startFrame: frame,
        endFrame: onsets[i + 1]?.frame ?? analysis.mono.length,
      }));
      describeSlices(analysis, ranges).forEach(({ role }, i) => {
        all++;
        if (onsets[i]!.roles.some((wanted) => (names[wanted] ?? wanted) === role)) right++;
      });
    }
    expect(all).toBeGreaterThan(80);
    expect(right / all).toBeGreaterThan(0.95);
  });
});
