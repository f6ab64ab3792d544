/**
 * How sounds answer keys: pitch by equal temperament (ISO 16: A4 = 440 Hz; 12 equal steps an octave), strengths, voices,
 * pedals, layers. Controllers by the MIDI 1.0 Detailed Specification, "Control Change Messages".
 */
import { describe, expect, it } from 'vitest';
import { KeyedPart, peakOf, RATE, rmsOf, withValues } from '../../../tests/support/keys.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { loudestBeside, partialsDb } from '../../../tests/support/spectrum.ts';
import { noise, sine } from '../../../tests/support/signals.ts';
import { layerByStrength, layWholeLoop, setVelocities } from '../project/commands/zones.ts';
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

/** Frequency by the phase of the tone at two places, given about what it is. */
function measuredHz(samples: Float32Array, from: number, aboutHz: number): number {
  const span = 8_192;
  const phaseAt = (at: number) => {
    let re = 0;
    let im = 0;
    for (let i = 0; i < span; i++) {
      const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / span);
      const angle = (2 * Math.PI * aboutHz * (at + i)) / RATE;
      re += samples[at + i]! * window * Math.cos(angle);
      im -= samples[at + i]! * window * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  const apart = 4_096;
  let turned = phaseAt(from + apart) - phaseAt(from);
  turned -= 2 * Math.PI * Math.round(turned / (2 * Math.PI));
  return aboutHz + (turned * RATE) / (2 * Math.PI * apart);
}

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

  it('driven bends a loud sine into odd overtones, and never beyond full scale', () => {
    const part = new KeyedPart([sine(440, 2)]).zones({ driveDb: 24 });
    const { left } = part.play(60_000, [[0, part.press(48)]]);
    const level = partialsDb(left, RATE, 8_000, 32_768);
    expect(peakOf(left)).toBeLessThan(1.0001);
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

describe('voices', () => {
  const long = () => new KeyedPart([sine(300, 3), sine(300, 3)], [0, 30_000, 60_000]);
  const count = (part: KeyedPart, deeds: Parameters<KeyedPart['play']>[1], at = 9_000) => {
    const { renderer } = part.play(at, deeds);
    let voices = 0;
    renderer.eachSounding(() => voices++);
    return voices;
  };

  it('are as many at once as the part and the sound say', () => {
    const presses = (part: KeyedPart) =>
      Array.from({ length: 6 }, (_, i): Parameters<KeyedPart['play']>[1][number] => [i * 900, part.press(48, 1, i)]);
    const part = long();
    expect(count(part, presses(part))).toBe(6);
    part.part({ voices: 4 });
    expect(count(part, presses(part))).toBe(4);
    part.zones({ voices: 2 });
    expect(count(part, presses(part))).toBe(2);
  });

  it.each([
    ['layer', 2],
    ['restart', 1],
    ['ignore', 1],
  ] as const)('of the same key again: %s leaves %i', (sameKey, left) => {
    const part = long().zones({ sameKey });
    const deeds: Parameters<KeyedPart['play']>[1] = [
      [0, part.press(48, 1, 1)],
      [4_000, part.press(48, 0.3, 2)],
    ];
    expect(count(part, deeds)).toBe(left);
    const { left: heard } = part.play(9_000, deeds);
    const level = peakOf(heard, 8_000);
    if (sameKey === 'ignore') expect(level).toBeCloseTo(1, 2);
    else if (sameKey === 'restart') expect(level).toBeCloseTo(0.09, 2);
  });

  it('choke each other in a group, and nothing outside it', () => {
    const part = long().zones({ chokeGroup: 1 }, [0, 1]);
    expect(
      count(part, [
        [0, part.press(48)],
        [1_000, part.press(50)],
        [2_000, part.press(49)],
      ]),
    ).toBe(2);
  });

  it('one at a time: letting the latest go takes up the key before, still held', () => {
    const part = new KeyedPart([sine(440, 5)]).spread(36, 90, 60).part({ oneAtATime: true }).zones({ answer: 'gate' });
    const { left } = part.play(90_000, [
      [0, part.press(60)],
      [20_000, part.press(64)],
      [40_000, part.letGo(64)],
      [70_000, part.letGo(60)],
    ]);
    expect(measuredHz(left, 24_000, 554.37)).toBeCloseTo(440 * 2 ** (4 / 12), 1);
    expect(measuredHz(left, 45_000, 440)).toBeCloseTo(440, 1);
    expect(peakOf(left, 71_000)).toBe(0);
  });

  it('are held on by the pedal, until it comes up', () => {
    const part = long().zones({ answer: 'gate' });
    const pedal = (value: number) => (renderer: ReturnType<KeyedPart['renderer']>) =>
      renderer.control({ partId: part.partId, control: 64, value });
    const { left } = part.play(28_000, [
      [0, part.press(48)],
      [1_000, pedal(1)],
      [2_000, part.letGo(48)],
      [20_000, pedal(0)],
    ]);
    expect(peakOf(left, 15_000, 20_000)).toBeGreaterThan(0.9);
    expect(peakOf(left, 21_000)).toBe(0);
  });

  it('of a muted sound are not heard, of a soloed one alone are', () => {
    const part = long().zones({ muted: true }, [0]);
    expect(count(part, [[0, part.press(48)]])).toBe(0);
    part.zones({ muted: false }, [0]).zones({ soloed: true }, [1]);
    expect(count(part, [[0, part.press(48)]])).toBe(0);
    expect(count(part, [[0, part.press(49)]])).toBe(1);
  });

  it('256 of a bounce lose none', () => {
    const part = new KeyedPart([sine(300, 3)]).spread(0, 127, 60);
    const renderer = part.renderer(256);
    for (let i = 0; i < 250; i++) part.press(i % 128, 0.1, i)(renderer);
    part.play(2_000, [], 128, renderer);
    let voices = 0;
    renderer.eachSounding(() => voices++);
    expect(voices).toBe(250);
  });
});

describe('several sounds on one key', () => {
  const tones = () => {
    const first = sine(300, 1);
    const second = sine(900, 1);
    const both = new Float32Array(2 * RATE);
    both.set(first);
    both.set(second, RATE);
    const part = new KeyedPart([both], [0, RATE]);
    part.document = unwrap(
      layerByStrength(
        part.document,
        { zoneIds: part.zoneIds, keys: { low: 60, high: 60, root: 60 }, fade: 0 },
        countingEnv(),
      ),
    );
    return part.zones({ velocityShare: 0 });
  };
  const levels = (part: KeyedPart, velocity: number) => {
    const { left } = part.play(30_000, [[0, part.press(60, velocity)]]);
    const level = partialsDb(left, RATE, 4_000, 16_384);
    return [300, 900].map((hz) => level(hz));
  };

  it('are chosen by strength', () => {
    const part = tones();
    const [soft, hard] = [levels(part, 40 / 127), levels(part, 100 / 127)];
    expect(soft[0]).toBeGreaterThan(-1);
    expect(soft[1]).toBeLessThan(-60);
    expect(hard[1]).toBeGreaterThan(-1);
    expect(hard[0]).toBeLessThan(-60);
  });

  it('cross over with their powers adding up to one', () => {
    const part = tones();
    part.document = unwrap(
      setVelocities(part.document, { zoneIds: part.zoneIds, velocities: { fade: 20 } }, countingEnv()),
    );
    const alone = [levels(part, 0.1)[0]!, levels(part, 1)[1]!];
    for (const step of [56, 60, 64, 68, 72]) {
      const powers = levels(part, step / 127).map((db, i) => 10 ** ((db - alone[i]!) / 10));
      expect(powers[0]! + powers[1]!).toBeCloseTo(1, 1);
      if (step === 64) expect(powers[0]! / powers[1]!).toBeCloseTo(1, 0);
    }
  });

  it('take turns, or are drawn', () => {
    const part = tones();
    part.document = unwrap(
      setVelocities(
        part.document,
        { zoneIds: part.zoneIds, velocities: { low: 1, high: 127, fade: 0 } },
        countingEnv(),
      ),
    );
    const order = (turn: 'turn' | 'random', hits: number) => {
      part.zones({ turn, answer: 'gate', releaseMs: 1 });
      const renderer = part.renderer();
      return Array.from({ length: hits }, (_, hit) => {
        const { left } = part.play(
          6_000,
          [
            [0, part.press(60, 1, 100 + hit)],
            [5_000, part.letGo(100 + hit)],
          ],
          128,
          renderer,
        );
        const level = partialsDb(left, RATE, 500, 4_096);
        return level(300) > level(900) ? 0 : 1;
      });
    };
    expect(order('turn', 4)).toEqual([0, 1, 0, 1]);
    const drawn = order('random', 60);
    const share = drawn.reduce<number>((sum, one) => sum + one, 0) / 60;
    // Three standard deviations of 60 throws of a coin.
    expect(Math.abs(share - 0.5)).toBeLessThan(3 * Math.sqrt(0.25 / 60));
  });
});

describe('a whole loop on keys', () => {
  const loop = () => {
    // A bar of 120 bpm: four beats, each a short tone.
    const samples = new Float32Array(2 * RATE);
    for (let beat = 0; beat < 4; beat++) samples.set(sine(440, 0.2), (beat * RATE) / 2);
    const part = new KeyedPart([samples], [0, RATE / 2, RATE, 1.5 * RATE]);
    part.document = unwrap(
      layWholeLoop(part.document, { cutId: part.cutId, keys: { low: 72, high: 84, root: 72 } }, countingEnv()),
    );
    return part;
  };
  const onsets = (samples: Float32Array) => {
    const found: number[] = [];
    let quiet = 5_000;
    samples.forEach((x, i) => {
      if (Math.abs(x) < 1e-3) quiet++;
      else {
        if (quiet > 2_000) found.push(i);
        quiet = 0;
      }
    });
    return found;
  };

  it('goes round in time while its key is held, at any pitch, and ends with it', () => {
    for (const key of [72, 79]) {
      const part = loop();
      const { left } = part.play(5 * RATE, [
        [1_000, part.press(key)],
        [4 * RATE, part.letGo(key)],
      ]);
      const starts = onsets(left);
      expect(starts.length).toBe(8);
      starts.forEach((start, beat) => expect(Math.abs(start - 1_000 - (beat * RATE) / 2)).toBeLessThan(40));
      const hz = 440 * 2 ** ((key - 72) / 12);
      expect(measuredHz(left.subarray(0, 8_192 + 4_096 + 3_000), 1_000, hz) / hz).toBeGreaterThan(0.99);
      expect(peakOf(left, 4 * RATE + 4_000)).toBeLessThan(1e-3);
    }
  });

  it('is the same at any size of the blocks, also when the tempo changes on the way', () => {
    const part = loop();
    const deeds: Parameters<KeyedPart['play']>[1] = [
      [777, part.press(75)],
      [50_000, (renderer) => renderer.setValues([{ kind: 'song', id: '', slot: 0, value: 140 }])],
      [150_001, part.letGo(75)],
    ];
    const whole = part.play(200_000, deeds, 4_096).left;
    for (const block of [127, 128]) expect(part.play(200_000, deeds, block).left).toEqual(whole);
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
