/**
 * Against the published tables and the published test signals: Recommendation ITU-R BS.1770-4, annex 1, tables 1 and 2;
 * EBU Tech 3341 (2016), table 1, "minimum requirements test signals", cases 1 to 5.
 */
import { describe, expect, it } from 'vitest';
import { kWeighting } from '../dsp/k-weighting.ts';
import { integratedLoudness, measureMix, MixMeter } from './loudness.ts';

const RATE = 48000;

/** Stereo sine, each stretch with its own level. */
function tones(stretches: readonly [seconds: number, dbfs: number][], hz = 1000, rate = RATE) {
  const total = stretches.reduce((sum, [seconds]) => sum + seconds, 0);
  const channel = new Float32Array(Math.round(total * rate));
  let at = 0;
  for (const [seconds, dbfs] of stretches) {
    const gain = 10 ** (dbfs / 20);
    const end = at + Math.round(seconds * rate);
    for (; at < end; at++) channel[at] = gain * Math.sin((2 * Math.PI * hz * at) / rate);
  }
  return { sampleRate: rate, channels: [channel, channel] };
}

describe('loudness', () => {
  it('weights with the coefficients of tables 1 and 2 at 48 kHz', () => {
    const [shelf, highPass] = kWeighting(48000);
    const table1 = {
      b0: 1.53512485958697,
      b1: -2.69169618940638,
      b2: 1.19839281085285,
      a1: -1.69065929318241,
      a2: 0.73248077421585,
    };
    const table2 = { b0: 1, b1: -2, b2: 1, a1: -1.99004745483398, a2: 0.99007225036621 };
    for (const key of ['b0', 'b1', 'b2', 'a1', 'a2'] as const) {
      expect(shelf[key]).toBeCloseTo(table1[key], 8);
      expect(highPass[key]).toBeCloseTo(table2[key], 8);
    }
  });

  it.each([
    ['1', [[20, -23]], -23],
    ['2', [[20, -33]], -33],
    [
      '3',
      [
        [10, -36],
        [60, -23],
        [10, -36],
      ],
      -23,
    ],
    [
      '4',
      [
        [10, -72],
        [10, -36],
        [60, -23],
        [10, -36],
        [10, -72],
      ],
      -23,
    ],
    [
      '5',
      [
        [20, -26],
        [20.1, -20],
        [20, -26],
      ],
      -23,
    ],
  ] as [string, [number, number][], number][])(
    'of case %s of Tech 3341 is as it asks, within 0.1',
    (_case, stretches, lufs) => {
      expect(Math.abs(integratedLoudness(tones(stretches)) - lufs)).toBeLessThan(0.1);
    },
  );

  it('of a full-scale sine of 997 Hz in one channel is -3.01 LKFS (BS.1770-4, annex 1)', () => {
    const { channels } = tones([[5, 0]], 997);
    expect(integratedLoudness({ sampleRate: RATE, channels: [channels[0]!] })).toBeCloseTo(-3.01, 1);
  });

  it('is the same at another rate', () => {
    expect(integratedLoudness(tones([[10, -23]], 1000, 44100))).toBeCloseTo(-23, 1);
  });

  it('of silence, and of less than a block, is none', () => {
    expect(integratedLoudness({ sampleRate: RATE, channels: [new Float32Array(RATE)] })).toBe(-Infinity);
    expect(integratedLoudness(tones([[0.2, -6]]))).toBe(-Infinity);
  });
});

describe('levels of a mix', () => {
  it('tell the peak, where it is, and the shape', () => {
    const { channels } = tones([[1, -12]]);
    const left = channels[0]!.slice();
    left[36000] = -1.25;
    const levels = measureMix({ sampleRate: RATE, channels: [left, channels[1]!] }, 4);
    expect(levels.seconds).toBe(1);
    expect(levels.peakDb).toBeCloseTo(1.94, 2);
    expect(levels.peakSeconds).toBeCloseTo(0.75, 4);
    expect(levels.peaks.map((peak) => Number(peak.toFixed(2)))).toEqual([0.25, 0.25, 0.25, 1.25]);
    // A sine's root mean square is 3.01 dB below its peak (general knowledge).
    expect(levels.means[0]).toBeCloseTo(0.2512 / Math.SQRT2, 3);
  });

  it('of nothing are silence', () => {
    const levels = measureMix({ sampleRate: RATE, channels: [new Float32Array(0)] }, 3);
    expect(levels).toMatchObject({ seconds: 0, peakDb: -Infinity, means: [0, 0, 0] });
  });
});

describe('loudness range', () => {
  // EBU Tech 3342 (2016), table 1, "minimum requirements test signals", cases 1 to 4: within 1 LU. From memory.
  it.each([
    ['1', [-20, -30], 10],
    ['2', [-20, -15], 5],
    ['3', [-40, -20], 20],
    ['4', [-50, -35, -20, -35, -50], 15],
  ] as const)('case %s', (_case, levels, range) => {
    const audio = tones(
      levels.map((dbfs) => [20, dbfs] as [number, number]),
      1000,
      16_000,
    );
    expect(Math.abs(measureMix(audio, 10).rangeLu - range)).toBeLessThan(1);
  });

  it('is the same of what comes piece by piece, as is all else', () => {
    const audio = tones(
      [
        [4, -20],
        [3, -31],
      ],
      997,
    );
    const meter = new MixMeter(RATE, 2);
    for (let at = 0; at < audio.channels[0]!.length; at += 4095)
      meter.push(audio.channels.map((channel) => channel.subarray(at, at + 4095)));
    const { means, ...told } = meter.finish(10);
    const { means: wantedMeans, ...wanted } = measureMix(audio, 10);
    expect(told).toEqual(wanted);
    // Added up in another order.
    for (const [place, mean] of means.entries()) expect(mean).toBeCloseTo(wantedMeans[place]!, 12);
  });
});
