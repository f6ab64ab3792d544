/** What several keys do to each other: voices, choking and gliding; sounds that share a key; whole loops that are held. */
import { describe, expect, it } from 'vitest';
import { KeyedPart, measuredHz, peakOf, RATE } from '../../../tests/support/keys.ts';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { partialsDb } from '../../../tests/support/spectrum.ts';
import { sine } from '../../../tests/support/signals.ts';
import { layerByStrength, layWholeLoop, setVelocities } from '../project/commands/zones.ts';

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
