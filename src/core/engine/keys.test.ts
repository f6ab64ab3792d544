/**
 * How sounds answer keys: pitch by equal temperament (ISO 16: A4 = 440 Hz; 12 equal steps an octave), strengths, voices,
 * pedals, layers. Controllers by the MIDI 1.0 Detailed Specification, "Control Change Messages".
 */
import { describe, expect, it } from 'vitest';
import { KeyedPart, measuredHz, peakOf, RATE, rmsOf, withValues } from '../../../tests/support/keys.ts';
import { loudestBeside, partialsDb } from '../../../tests/support/spectrum.ts';
import { noise, sine } from '../../../tests/support/signals.ts';
import { responseDb, SHAPE_LOW } from './voice/svf.ts';
import { bent } from '../dsp/bend.ts';

/** Frequencies of notes 57 to 81 in equal temperament, to a hundredth (a table in any handbook of acoustics). */
const TEMPERED_HZ: [note: number, hz: number][] = [
  [57, 220],
  [60, 261.63],
  [64, 329.63],
  [67, 392],
  [69, 440],
  [72, 523.25],
  [76, 659.26],
  [81, 880],
];

describe('pitch', () => {
  it.each(TEMPERED_HZ)('of key %i is %d Hz within a cent', (note, hz) => {
    const part = new KeyedPart([sine(440, 4)]).spread(40, 90, 69);
    const { left } = part.play(40_000, [[0, part.press(note)]]);
    const cents = 1200 * Math.log2(measuredHz(left, 10_000, hz) / hz);
    // The table itself is rounded to 0.05 cents.
    expect(Math.abs(cents)).toBeLessThan(1);
  });

  it.each([1_000, 5_000, 9_000, 10_800, 11_500, 12_500, 14_000, 18_000])(
    '%d Hz an octave up folds nothing back above -80 dB',
    (hz) => {
      const samples = sine(hz, 3).map((x) => x * 10 ** (-12 / 20));
      const part = new KeyedPart([samples]).spread(40, 90, 60);
      const { left } = part.play(60_000, [[0, part.press(72)]]);
      expect(loudestBeside(left, RATE, 8_000, 32_768, [2 * hz], 60)).toBeLessThan(-80);
    },
  );

  it('bends with the wheel by what the part says, comes back, and leaves patterns alone', () => {
    const part = new KeyedPart([sine(440, 4)]).part({ bendCents: 300 });
    const { left } = part.play(100_000, [
      [0, part.press(48)],
      [20_000, (renderer) => renderer.control({ partId: part.partId, control: 'bend', value: 1 })],
      [60_000, (renderer) => renderer.control({ partId: part.partId, control: 'bend', value: 0 })],
    ]);
    expect(measuredHz(left, 4_000, 440)).toBeCloseTo(440, 1);
    expect(measuredHz(left, 30_000, 523.25)).toBeCloseTo(440 * 2 ** (3 / 12), 1);
    expect(measuredHz(left, 80_000, 440)).toBeCloseTo(440, 1);
  });

  it('does not follow the key when it is told not to', () => {
    const part = new KeyedPart([sine(440, 2)]).spread(40, 90, 60).zones({ followsKey: false });
    expect(measuredHz(part.play(40_000, [[0, part.press(80)]]).left, 10_000, 440)).toBeCloseTo(440, 2);
  });

  it('glides to the next note in the set time, by rate in its share of an octave', () => {
    for (const [glideBy, ms] of [
      ['time', 200],
      ['rate', 200 * (7 / 12)],
    ] as const) {
      const part = new KeyedPart([sine(440, 4)]).spread(36, 90, 60).part({ oneAtATime: true, glideMs: 200, glideBy });
      const { left } = part.play(80_000, [
        [0, part.press(60)],
        [30_000, part.press(67)],
      ]);
      const end = 30_000 + (ms / 1000) * RATE;
      expect(measuredHz(left, Math.round(end) + 200, 659.26)).toBeCloseTo(440 * 2 ** (7 / 12), 1);
      // Half way in time it is half way in pitch.
      const middle = Math.round(30_000 + (end - 30_000) / 2);
      let crossings = 0;
      for (let i = middle - 500; i < middle + 500; i++) if (left[i - 1]! < 0 && left[i]! >= 0) crossings++;
      expect((crossings / 1000) * RATE).toBeGreaterThan(470);
      expect((crossings / 1000) * RATE).toBeLessThan(620);
    }
  });

  it('only if held glides not from a note that is let go', () => {
    const part = new KeyedPart([sine(440, 4)])
      .spread(36, 90, 60)
      .part({ oneAtATime: true, glideMs: 400, glideWhen: 'legato' });
    const { left } = part.play(80_000, [
      [0, part.press(60)],
      [20_000, part.letGo(60)],
      [30_000, part.press(67)],
    ]);
    expect(measuredHz(left, 31_000, 659.26)).toBeCloseTo(440 * 2 ** (7 / 12), 1);
  });
});

describe('the filter', () => {
  it.each([
    [12, 0],
    [12, 0.6],
    [24, 0],
    [24, 0.6],
  ] as const)(
    'of %i dB an octave at resonance %d lets through what its formula says, within 0.5 dB',
    (slope, resonance) => {
      const part = new KeyedPart([noise(3 * RATE, 4).map((x) => x * 0.3)]);
      const open = part.play(2 * RATE, [[1, part.press(48)]]).left;
      part.zones({ filter: 'low', slope, cutoffHz: 1_000, resonance });
      const filtered = part.play(2 * RATE, [[1, part.press(48)]]).left;
      for (const hz of [200, 500, 900, 1_400, 2_500]) {
        const band = (samples: Float32Array) => {
          let sum = 0;
          for (let from = 2_000; from + 4_096 < samples.length; from += 2_048) {
            const level = partialsDb(samples, RATE, from, 4_096);
            for (let near = -2; near <= 2; near++) sum += 10 ** (level(hz + (near * RATE) / 4_096) / 10);
          }
          return 10 * Math.log10(sum);
        };
        const expected = responseDb({ shape: SHAPE_LOW, cutoffHz: 1_000, resonance, isSteep: slope === 24 }, hz, RATE);
        expect(Math.abs(band(filtered) - band(open) - expected)).toBeLessThan(0.5);
      }
    },
  );

  it('is 24 dB an octave steep far above its cutoff, and 3 dB down there (Butterworth)', () => {
    const at = (hz: number) => responseDb({ shape: SHAPE_LOW, cutoffHz: 500, resonance: 0, isSteep: true }, hz, RATE);
    expect(at(500)).toBeCloseTo(-3.01, 1);
    expect(at(2_000) - at(4_000)).toBeGreaterThan(23.5);
    expect(at(2_000) - at(4_000)).toBeLessThan(26);
  });

  it('driven bends a loud sine into odd overtones, and never far beyond full scale', () => {
    const part = new KeyedPart([sine(440, 2)]).zones({ driveDb: 24 });
    const { left } = part.play(60_000, [[0, part.press(48)]]);
    const level = partialsDb(left, RATE, 8_000, 32_768);
    // A square wave without what lies above hearing overshoots by up to 9% (Gibbs).
    expect(peakOf(left)).toBeLessThan(1.09);
    expect(level(1_320)).toBeGreaterThan(-20);
    expect(level(880)).toBeLessThan(-70);
  });

  it('follows the key: an octave up opens it by an octave', () => {
    const part = new KeyedPart([noise(2 * RATE, 5).map((x) => x * 0.3)])
      .spread(36, 96, 60)
      .zones({ followsKey: false, filter: 'low', slope: 24, cutoffHz: 400, cutoffKeyShare: 1 });
    const tops = [60, 72].map((key) => {
      const { left } = part.play(60_000, [[0, part.press(key)]]);
      const level = partialsDb(left, RATE, 8_000, 32_768);
      return [350, 700].map((hz) => Math.max(...Array.from({ length: 40 }, (_, i) => level(hz - 20 + i))));
    });
    const fall = tops.map(([low, high]) => low! - high!);
    expect(fall[0]! - fall[1]!).toBeGreaterThan(15);
  });
});

describe('the level', () => {
  it('goes through delay, attack, hold, decay and sustain as they are set, within a control step', () => {
    const part = new KeyedPart([new Float32Array(3 * RATE).fill(0.5)]).zones({
      answer: 'gate',
      delayMs: 50,
      attackMs: 100,
      holdMs: 60,
      decayMs: 200,
      sustain: 0.4,
      releaseMs: 150,
      attackBend: 0.5,
      decayBend: 0.3,
      releaseBend: -0.4,
    });
    const { left } = part.play(2 * RATE, [
      [0, part.press(48)],
      [RATE, part.letGo(48)],
    ]);
    const at = (ms: number) => left[Math.round((ms / 1000) * RATE)]! / 0.5;
    const expected = (ms: number) => {
      if (ms < 50) return 0;
      if (ms < 150) return bent((ms - 50) / 100, 0.5);
      if (ms < 210) return 1;
      if (ms < 410) return 1 - 0.6 * bent((ms - 210) / 200, 0.3);
      if (ms < 1_000) return 0.4;
      return ms < 1_150 ? 0.4 * (1 - bent((ms - 1_000) / 150, -0.4)) : 0;
    };
    const stepMs = (32 / RATE) * 1000;
    for (let ms = 1; ms < 1_300; ms += 7) {
      const near = [expected(ms - stepMs), expected(ms), expected(ms + stepMs)];
      expect(at(ms)).toBeGreaterThanOrEqual(Math.min(...near) - 0.01);
      expect(at(ms)).toBeLessThanOrEqual(Math.max(...near) + 0.01);
    }
  });

  it.each([
    ['square', 0.25],
    ['linear', 0.5],
    ['soft', Math.SQRT1_2],
  ] as const)('of half the strength by the law "%s" is %d', (velocityLaw, gain) => {
    const part = new KeyedPart([sine(300, 1)]).zones({ velocityLaw });
    const { left } = part.play(20_000, [[0, part.press(48, 0.5)]]);
    expect(peakOf(left, 5_000)).toBeCloseTo(gain, 2);
    const none = part.zones({ velocityShare: 0 }).play(20_000, [[0, part.press(48, 0.5)]]);
    expect(peakOf(none.left, 5_000)).toBeCloseTo(1, 2);
    const fixed = part.zones({ velocityShare: 1, fixedVelocity: 127 }).play(20_000, [[0, part.press(48, 0.1)]]);
    expect(peakOf(fixed.left, 5_000)).toBeCloseTo(1, 2);
  });

  it('of a soft press can be duller, later and slower', () => {
    const rising = Float32Array.from({ length: 2 * RATE }, (_, i) => i / (2 * RATE));
    const part = new KeyedPart([rising]).zones({ velocityStartMs: 200, velocityShare: 0 });
    const hard = part.play(4_000, [[0, part.press(48, 1)]]).left[3_000]!;
    const soft = part.play(4_000, [[0, part.press(48, 0)]]).left[3_000]!;
    expect(soft - hard).toBeCloseTo(0.1, 2);
    const slow = new KeyedPart([sine(300, 2)]).zones({ velocityAttackMs: 200, velocityShare: 0 });
    expect(peakOf(slow.play(4_000, [[0, slow.press(48, 0)]]).left)).toBeLessThan(0.5);
    expect(peakOf(slow.play(4_000, [[0, slow.press(48, 1)]]).left)).toBeGreaterThan(0.9);
  });
});

describe('where a sound begins and ends', () => {
  it('skips so many milliseconds, earlier and later, and plays on to the end of it all', () => {
    const rising = Float32Array.from({ length: RATE }, (_, i) => i / RATE);
    const part = new KeyedPart([rising], [0, 22_050]).zones({ startOffsetMs: 100 }, [0]);
    part.document = withValues(part.document, { kind: 'cut', id: part.cutId }, { follow: 'none' });
    const heard = () => part.play(44_100, [[0, part.press(48)]]).left;
    expect(heard()[2_000]).toBeCloseTo((4_410 + 2_000) / RATE, 4);
    expect(peakOf(heard(), 22_050 - 4_410 + 10)).toBe(0);
    part.zones({ endOffsetMs: -100 }, [0]);
    expect(peakOf(heard(), 22_050 - 8_820 + 10)).toBe(0);
    part.zones({ endOffsetMs: 0, runsOn: true, startOffsetMs: 0 }, [0]);
    expect(heard()[40_000]).toBeCloseTo(40_000 / RATE, 4);
    // The second begins earlier, over its marker.
    part.zones({ startOffsetMs: -100 }, [1]);
    expect(part.play(9_000, [[0, part.press(49)]]).left[2_000]).toBeCloseTo((22_050 - 4_410 + 2_000) / RATE, 4);
  });
});

describe('bad input', () => {
  it('all at once: shortest times, ends of the filter, a loop of one sample, no strength: stays finite, and ends', () => {
    const part = new KeyedPart([noise(RATE, 8), noise(RATE, 9)], [0, 11_025, 22_050, 33_000]).zones({
      answer: 'gate',
      attackMs: 0,
      decayMs: 0,
      sustain: 0,
      releaseMs: 1,
      filter: 'low',
      slope: 24,
      cutoffHz: 20,
      resonance: 1,
      driveDb: 36,
      loopMode: 'forwards',
    });
    part.zones({ cutoffHz: 20_000, sustain: 1, filter: 'high' }, [1]);
    const [zoneId] = part.zoneIds;
    part.document = {
      ...part.document,
      zones: {
        ...part.document.zones,
        [zoneId!]: { ...part.document.zones[zoneId!]!, loop: { startFrame: 500, endFrame: 501, crossfadeFrames: 0 } },
      },
    };
    const { left, renderer } = part.play(60_000, [
      [0, part.press(48, 0)],
      [100, part.press(49, 1)],
      [200, part.press(50, 2)],
      [300, part.press(200, 1)],
      [40_000, (one) => one.allNotesOff()],
    ]);
    expect(left.every((x) => Number.isFinite(x))).toBe(true);
    expect(peakOf(left, 45_000)).toBeLessThan(1e-3);
    let voices = 0;
    renderer.eachSounding(() => voices++);
    expect(voices).toBe(0);
  });

  it('a thousand notes and a flood of controllers in a second leave it playing', () => {
    const part = new KeyedPart([sine(200, 1)]).spread(0, 127, 60).zones({ answer: 'gate' });
    const deeds = Array.from({ length: 1_000 }, (_, i): Parameters<KeyedPart['play']>[1][number] => [
      i * 44,
      (renderer) => {
        part.press(i % 128, 0.3, i)(renderer);
        renderer.control({ partId: part.partId, control: i % 120, value: (i % 7) / 7 });
        if (i > 3) part.letGo(i - 3)(renderer);
      },
    ]);
    const { left, renderer } = part.play(50_000, deeds);
    expect(left.every((x) => Number.isFinite(x))).toBe(true);
    renderer.allSoundOff();
    const after = part.play(2_000, [], 128, renderer);
    expect(rmsOf(after.left, 1_000, 2_000)).toBe(0);
    expect(peakOf(part.play(4_000, [[0, part.press(60, 1, 5_000)]], 128, renderer).left, 1_000)).toBeGreaterThan(0.5);
  });
});

describe('a key that keeps the length', () => {
  it('changes the pitch and not the length; the root plays the sound as it is', () => {
    const tone = sine(440, 1);
    for (let i = 0; i < tone.length; i++) tone[i]! *= Math.min(1, (tone.length - i) / 4_000);
    const part = new KeyedPart([tone]);
    part.document = withValues(part.document, { kind: 'cut', id: part.cutId }, { follow: 'none', material: 'notes' });
    part.spread(56, 64, 60).zones({ keepsLength: true });
    for (const key of [56, 60, 64]) {
      const { left } = part.play(RATE + 8_000, [[0, part.press(key)]]);
      const last = left.findLastIndex((x) => Math.abs(x) > 1e-3);
      expect(Math.abs(last - RATE)).toBeLessThan(0.03 * RATE);
      const hz = 440 * 2 ** ((key - 60) / 12);
      expect(Math.abs(1200 * Math.log2(measuredHz(left, 12_000, hz) / hz))).toBeLessThan(5);
    }
    part.zones({ keepsLength: false });
    const { left } = part.play(RATE + 8_000, [[0, part.press(64)]]);
    expect(left.findLastIndex((x) => Math.abs(x) > 1e-3)).toBeLessThan(0.83 * RATE);
  });
});
