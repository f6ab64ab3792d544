/** Hearing what slices are, on sounds made here: none of them was learned from. Real ones are measured by `npm run bench`. */
import { describe, expect, it } from 'vitest';
import { noise, sine } from '../../../../tests/support/signals.ts';
import { base64Of, bytesOfBase64 } from '../../units/base64.ts';
import { seededRandom } from '../../units/random.ts';
import { EarFeatures } from './ear-features.ts';
import { BAND_EDGES_HZ, BANDS, EAR_SIZE, GROUP_AT } from './ear-layout.ts';
import { EarNet } from './ear-net.ts';
import { FIRST_LOOK, SECOND_LOOK } from './ear-weights.ts';
import { hearRoles } from './hear-roles.ts';
import { agreed, likenesses, loopFeatureCount, loopFeatures } from './second-look.ts';

const RATE = 44_100;

/** So many seconds from a function of time. */
const made = (seconds: number, at: (t: number) => number) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => at(i / RATE));
const kick = made(
  0.4,
  (t) => 0.9 * Math.exp(-t / 0.09) * Math.sin(2 * Math.PI * (52 * t + 1.6 * (1 - Math.exp(-t / 0.02)))),
);
/** White noise with its lower part taken out twice. */
function hat(seconds: number, fall: number): Float32Array {
  const random = seededRandom(8);
  let [a, b] = [0, 0];
  return made(seconds, (t) => {
    const x = random() - 0.5;
    const y = x - 2 * a + b;
    [a, b] = [x, a];
    return 0.3 * y * Math.exp(-t / fall);
  });
}
const heard = (signal: Float32Array) =>
  hearRoles(signal, RATE, [{ startFrame: 0, endFrame: signal.length, beats: null }])[0]!;

describe('the ears', () => {
  const ears = new EarFeatures(RATE);

  it('have a tone in its band, and all else far below', () => {
    for (const hz of [85, 240, 700, 1200, 3000, 7600]) {
      const features = ears.of(sine(hz, 1), 0, RATE);
      expect(features).toHaveLength(EAR_SIZE);
      // Of a window in the middle.
      const levels = [...features.subarray(GROUP_AT.levels + 5 * BANDS, GROUP_AT.levels + 6 * BANDS)];
      const loudest = levels.indexOf(Math.max(...levels));
      expect(BAND_EDGES_HZ[loudest]!).toBeLessThanOrEqual(hz);
      expect(BAND_EDGES_HZ[loudest + 1]!).toBeGreaterThan(hz);
      // Two bands away the window's own spread is gone (Hann: the first sidelobe lies 31 dB down).
      expect(Math.max(...levels.filter((_, band) => Math.abs(band - loudest) > 2))).toBeLessThan(-3);
    }
  });

  it('do not hear how loud it is, nor what comes after the slice', () => {
    const signal = noise(RATE, 3).map((x, i) => x * Math.exp(-i / 4000));
    const features = ears.of(signal, 500, 9000);
    const quiet = ears.of(
      signal.map((x) => x / 64),
      500,
      9000,
    );
    const alone = ears.of(signal.slice(0, 9000), 500, 9000);
    for (let i = 0; i < EAR_SIZE; i++) {
      expect(quiet[i]!).toBeCloseTo(features[i]!, 3);
      expect(alone[i]!).toBeCloseTo(features[i]!, 5);
    }
  });

  it('hear the same at twice the rate, about', () => {
    const at = (rate: number) =>
      Float32Array.from(
        { length: rate },
        (_, i) => Math.sin((2 * Math.PI * 330 * i) / rate) * Math.exp((-6 * i) / rate),
      );
    const one = ears.of(at(RATE), 0, RATE);
    const other = new EarFeatures(2 * RATE).of(at(2 * RATE), 0, 2 * RATE);
    for (let band = 0; band < BANDS; band++) {
      const place = GROUP_AT.levels + 3 * BANDS + band;
      if (one[place]! > -2) expect(other[place]!).toBeCloseTo(one[place]!, 1);
    }
  });
});

describe('what a slice is', () => {
  it('is heard of drums that are plain', () => {
    expect(heard(kick).role).toBe('kick');
    expect(['closed hat', 'percussion']).toContain(heard(hat(0.2, 0.02)).role);
    expect(['open hat', 'cymbal']).toContain(heard(hat(0.8, 0.25)).role);
  });

  it('is nothing where there is nothing; and nobody is sure of what is no drum', () => {
    expect(heard(new Float32Array(RATE))).toMatchObject({ role: 'other', confidence: 0 });
    expect(heard(new Float32Array(1)).confidence).toBe(0);
    for (const signal of [made(0.005, (t) => (t < 1e-4 ? 1 : 0)), noise(RATE, 4), sine(997, 1)]) {
      const { confidence, role, second } = heard(signal);
      expect(confidence).toBeGreaterThan(0);
      expect(confidence).toBeLessThan(0.97);
      expect(second).not.toBe(role);
    }
  });

  it('is heard at any rate', () => {
    for (const rate of [8_000, 22_050, 48_000, 192_000]) {
      const signal = Float32Array.from(
        { length: rate / 2 },
        (_, i) => Math.sin((2 * Math.PI * 55 * i) / rate) * Math.exp((-12 * i) / rate),
      );
      const [one] = hearRoles(signal, rate, [{ startFrame: 0, endFrame: signal.length, beats: null }]);
      expect(one!.confidence).toBeGreaterThan(0);
    }
  });
});

describe('the second look', () => {
  it('of a loop is told of every slice; more than a loop holds are heard in stretches, all of them', () => {
    const loop = new Float32Array(300 * 2000);
    const slices = Array.from({ length: 300 }, (_, n) => {
      loop.set((n % 2 === 0 ? kick : hat(0.2, 0.02)).subarray(0, 2000), n * 2000);
      return { startFrame: n * 2000, endFrame: (n + 1) * 2000, beats: n / 2 };
    });
    const roles = hearRoles(loop, RATE, slices);
    expect(roles).toHaveLength(300);
    // Those that are alike are one thing, and not what the others are.
    const said = (odd: number) =>
      new Set(
        roles
          .slice(0, 128)
          .filter((_, n) => n % 2 === odd)
          .map(({ role }) => role),
      );
    expect(said(0).size).toBe(1);
    expect([...said(0)]).not.toEqual([...said(1)]);
  });

  it('gives the same hit struck again the same guess, about as sure', () => {
    const random = seededRandom(1);
    const frames = Math.round(0.2 * RATE);
    const loop = new Float32Array(16 * frames);
    const slices = Array.from({ length: 16 }, (_, n) => {
      // A drum of noise and a tone, no two strokes of it the same.
      loop.set(
        made(0.2, (t) => Math.exp(-t / 0.06) * (random() - 0.5 + 0.5 * Math.sin(2 * Math.PI * 190 * t))),
        n * frames,
      );
      return { startFrame: n * frames, endFrame: (n + 1) * frames, beats: n / 2 };
    });
    const heardThere = hearRoles(loop, RATE, slices);
    expect(new Set(heardThere.map(({ role }) => role)).size).toBe(1);
    const sure = heardThere.map(({ confidence }) => confidence);
    expect(Math.max(...sure) - Math.min(...sure)).toBeLessThan(0.03);
  });

  it('leaves what is unlike to itself', () => {
    const look = (signal: Float32Array) => {
      const features = new EarFeatures(RATE).of(signal, 0, signal.length);
      return { features, logits: new EarNet(FIRST_LOOK).logits(features), seconds: 0.3, beats: null };
    };
    const alike = likenesses([kick, kick.map((x) => x / 2), hat(0.2, 0.02)].map(look));
    const said = [
      [Math.log(0.6), Math.log(0.4)],
      [Math.log(0.1), Math.log(0.9)],
      [Math.log(0.7), Math.log(0.3)],
    ];
    const told = agreed(
      alike,
      said.map((row) => Float64Array.from(row)),
    );
    // The two that are the same meet: the mean of logarithms, 0.06 against 0.36, so that all is one again.
    const share = Math.sqrt(0.06) / (Math.sqrt(0.06) + Math.sqrt(0.36));
    expect(Math.exp(told[0]![0]!)).toBeCloseTo(share, 2);
    expect(Math.exp(told[1]![0]!)).toBeCloseTo(share, 2);
    expect(Math.exp(told[2]![0]!)).toBeCloseTo(0.7, 2);
  });

  it('hears those that are alike as alike, wherever they stand', () => {
    const features = new EarFeatures(RATE).of(kick, 0, kick.length);
    const logits = new EarNet(FIRST_LOOK).logits(features);
    const told = loopFeatures(
      [0, 1, 2].map((beats) => ({ features, logits, seconds: 0.3, beats })),
      4,
    );
    expect(told[0]).toHaveLength(loopFeatureCount(12));
    // Their mean is their own.
    for (let role = 0; role < 12; role++) expect(told[1]![12 + role]!).toBeCloseTo(logits[role]!, 5);
  });
});

describe('a network', () => {
  it('gives likelihoods that add up to one, and is as large as it says', () => {
    for (const packed of [FIRST_LOOK, SECOND_LOOK]) {
      const net = new EarNet(packed);
      const logits = net.logits(new Float32Array(net.inputs));
      expect(logits.map(Math.exp).reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 9);
    }
    expect(FIRST_LOOK.inputs).toBe(EAR_SIZE);
    expect(SECOND_LOOK.inputs).toBe(loopFeatureCount(12));
    const bytes = [FIRST_LOOK, SECOND_LOOK].reduce(
      (sum, { weights, floats }) => sum + (weights.length + floats.length) * 0.75,
      0,
    );
    expect(bytes).toBeLessThan(100_000);
  });

  it('worked by hand: one input, one hidden unit, two outputs', () => {
    const floats = Float32Array.from([2, 4, 0.01, 1, 0.02, 0.02, 0, 0.5]);
    const net = new EarNet({
      inputs: 1,
      hidden: 1,
      outputs: 2,
      weights: base64Of(new Uint8Array(Int8Array.from([100, 50, -50]).buffer)),
      floats: base64Of(new Uint8Array(floats.buffer)),
      temperature: 2,
    });
    // (10 - 2) / 4 = 2; 2 · 100 · 0.01 + 1 = 3; 3 · 50 · 0.02 = 3 and -3 + 0.5; half of it: 1.5 and -1.25.
    const wanted = 1 / (1 + Math.exp(-2.75));
    expect(Math.exp(net.logits([10])[0]!)).toBeCloseTo(wanted, 6);
    // (0 - 2) / 4 · 1 + 1 = 0.5: half as much; what falls below 0 is 0.
    expect(Math.exp(net.logits([-100])[0]!)).toBeCloseTo(1 / (1 + Math.exp(0.25)), 6);
  });
});

it('text of 64 letters is read as it is written (RFC 4648, section 10)', () => {
  const vectors = {
    '': '',
    f: 'Zg==',
    fo: 'Zm8=',
    foo: 'Zm9v',
    foob: 'Zm9vYg==',
    fooba: 'Zm9vYmE=',
    foobar: 'Zm9vYmFy',
  };
  for (const [plain, text] of Object.entries(vectors)) {
    const bytes = Uint8Array.from(plain, (letter) => letter.charCodeAt(0));
    expect(base64Of(bytes)).toBe(text);
    expect(bytesOfBase64(text)).toEqual(bytes);
  }
});
