import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setZones } from '../../../../tests/support/edits.ts';
import type { LiveSong } from '../../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../../tests/support/signals.ts';
import { ENVELOPE_ROWS, LFO_ROWS, MODULATOR_ROWS, type ModulatorKind } from '../../params/modulators.ts';
import { packValues, type Rows } from '../../params/row.ts';
import { addModulator } from '../../project/commands/modulators.ts';
import { setValue } from '../../project/commands/values.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { Renderer } from '../renderer.ts';
import { compilePlan } from '../plan/compile.ts';
import { PartControls } from './controls.ts';
import { envelopeValue, lfoValue, modulatorValue, type ControlView } from './modulators.ts';

const RATE = 44100;
/** A moment of a voice, 60 quarters a minute. */
const after = (seconds: number, others: Partial<ControlView> = {}): ControlView => ({
  voiceSeconds: seconds,
  songSeconds: seconds,
  voiceQuarters: seconds,
  songQuarters: seconds,
  releasedAtSeconds: Infinity,
  velocity: 1,
  key: 60,
  seed: 1,
  controls: null,
  ahead: 0,
  turns: new Float64Array(4),
  sinceSeconds: 0,
  ...others,
});

const lfo = (values: Record<string, string | number | boolean>) =>
  packValues(LFO_ROWS, values as Parameters<typeof packValues<typeof LFO_ROWS>>[1]);

describe('an LFO', () => {
  it.each([
    ['sine', [0, 1, 0, -1]],
    ['triangle', [0, 1, 0, -1]],
    ['saw', [0, 0.5, -1, -0.5]],
    ['square', [1, 1, -1, -1]],
  ])('%s has its wave at the quarters of its period', (wave, expected) => {
    const values = lfo({ wave, rateHz: 2 });
    [0, 0.125, 0.25, 0.375].forEach((seconds, quarter) => {
      expect(lfoValue(values, after(seconds), 1)).toBeCloseTo(expected[quarter]!, 9);
      expect(lfoValue(values, after(seconds + 3), 1)).toBeCloseTo(expected[quarter]!, 9);
    });
  });

  it('begins at its phase', () => {
    expect(lfoValue(lfo({ wave: 'sine', phase: 0.25 }), after(0), 1)).toBeCloseTo(1, 9);
  });
});

describe('an envelope that moves', () => {
  it('waits, rises, falls and stays', () => {
    const values = packValues(ENVELOPE_ROWS, { delayMs: 10, attackMs: 20, decayMs: 40, sustain: 0.5 });
    const at = (ms: number) => envelopeValue(values, ms / 1000);
    expect([at(0), at(9), at(20), at(30), at(50), at(70), at(5000)]).toEqual([0, 0, 0.5, 1, 0.75, 0.5, 0.5]);
  });
});

/** A modulator as the plan has it. */
function modulator(kind: ModulatorKind, values: object = {}, drawn: object = {}) {
  const packed = packValues(MODULATOR_ROWS[kind] as Rows, values);
  return { id: 'm', kind, values: packed, steps: [0], points: [{ at: 0, value: 0 }], seed: 77, routes: [], ...drawn };
}

describe('every kind of modulator', () => {
  it('waves: a saw that turns early is a triangle half way, a narrow pulse is up for its width', () => {
    const saw = lfo({ wave: 'saw', rateHz: 1, symmetry: 0.5 });
    const triangle = lfo({ wave: 'triangle', rateHz: 1 });
    const pulse = lfo({ wave: 'square', rateHz: 1, width: 0.2 });
    for (const at of [0, 0.1, 0.25, 0.4, 0.6, 0.9]) {
      expect(lfoValue(saw, after(at), 1)).toBeCloseTo(lfoValue(triangle, after(at), 1), 9);
      expect(lfoValue(pulse, after(at), 1)).toBe(at < 0.2 ? 1 : -1);
    }
  });

  it('in notes goes by the tempo: a quarter is a round of the voice’s quarters, a dotted eighth three quarters of one', () => {
    const quarter = lfo({ wave: 'saw', rateBy: 'notes', rateNote: '1/4' });
    expect(lfoValue(quarter, after(99, { voiceQuarters: 0.25 }), 1)).toBeCloseTo(0.5, 9);
    const dotted = lfo({ wave: 'saw', rateBy: 'notes', rateNote: '1/8d' });
    expect(lfoValue(dotted, after(99, { voiceQuarters: 0.75 * 0.25 }), 1)).toBeCloseTo(0.5, 9);
    const free = lfo({ wave: 'saw', rateBy: 'notes', rateNote: '1/1', restarts: false });
    expect(lfoValue(free, after(99, { songQuarters: 5 }), 1)).toBeCloseTo(0.5, 9);
  });

  it('random: steps stay for a round, the smooth one passes through the same values; even over all', () => {
    const stepped = lfo({ wave: 'stepped', rateHz: 1 });
    const smooth = lfo({ wave: 'smooth', rateHz: 1 });
    expect(lfoValue(stepped, after(3.1), 5)).toBe(lfoValue(stepped, after(3.9), 5));
    expect(lfoValue(smooth, after(3), 5)).toBeCloseTo(lfoValue(stepped, after(3), 5), 9);
    const drawn = Array.from({ length: 4_000 }, (_, i) => lfoValue(stepped, after(i), 5));
    const mean = drawn.reduce((sum, x) => sum + x, 0) / drawn.length;
    // Three standard errors of the mean of an even spread over -1..1.
    expect(Math.abs(mean)).toBeLessThan(3 / Math.sqrt(3 * drawn.length));
    // The same hit on every machine; another hit has other chances.
    expect(lfoValue(stepped, after(3), 6)).not.toBe(lfoValue(stepped, after(3), 5));
  });

  it('a row of steps goes round, slides where it is smooth, and stays at its end when it plays once', () => {
    const row = modulator('steps', { rateHz: 1 }, { steps: [1, -1, 0.5, 0] });
    const at = (seconds: number, one = row) => modulatorValue(one, after(seconds));
    expect([0, 0.24, 0.26, 0.51, 0.99, 1.1].map((seconds) => at(seconds))).toEqual([1, 1, -1, 0.5, 0, 1]);
    const smooth = modulator('steps', { rateHz: 1, smooth: 0.5 }, { steps: [1, -1, 0.5, 0] });
    expect(at(0.125, smooth)).toBeCloseTo(1, 9);
    expect(at(0.1875, smooth)).toBeCloseTo(0, 9);
    const once = modulator('steps', { rateHz: 1, isOnce: true }, { steps: [1, -1, 0.5, 0.25] });
    expect(at(7.3, once)).toBe(0.25);
  });

  it('a curve goes straight from point to point', () => {
    const points = [
      { at: 0.2, value: 1 },
      { at: 0.6, value: -1 },
    ];
    const curve = modulator('curve', { rateHz: 1 }, { points });
    [1, 1, 0, -1, -1].forEach((value, i) => {
      expect(modulatorValue(curve, after([0.1, 0.2, 0.4, 0.6, 0.9][i]!))).toBeCloseTo(value, 9);
    });
  });

  it('strength, key, chance and controllers are what they are', () => {
    const controls = new PartControls();
    controls.bend = -0.5;
    controls.pressure = 0.3;
    controls.controllers[1] = 0.7;
    const view = after(1, { velocity: 0.4, key: 75, controls });
    const value = (kind: ModulatorKind) => modulatorValue(modulator(kind), view);
    expect([value('velocity'), value('key'), value('bend'), value('pressure')]).toEqual([0.4, 0.25, -0.5, 0.3]);
    expect(value('controller')).toBeCloseTo(0.7, 6);
    expect(value('random')).toBe(value('random'));
    expect(modulatorValue(modulator('random'), after(1, { seed: 2 }))).not.toBe(value('random'));
  });

  it('an envelope falls from where it was once its key is let go', () => {
    const one = modulator('envelope', { attackMs: 100, decayMs: 0, sustain: 0.8, releaseMs: 200 });
    expect(modulatorValue(one, after(0.5))).toBeCloseTo(0.8, 9);
    expect(modulatorValue(one, after(0.6, { releasedAtSeconds: 0.5 }))).toBeCloseTo(0.4, 9);
    expect(modulatorValue(one, after(0.9, { releasedAtSeconds: 0.5 }))).toBe(0);
  });
});

/** A tone of two seconds whose one zone has a modulator. */
function moved(paramId: 'tuneCents' | 'gainDb' | 'pan' | 'cutoffHz', amount: number, kind: 'lfo' | 'envelope' = 'lfo') {
  const made = loopProject({ sampleRate: RATE, channels: [sine(1000, 4)] }, [0], 2);
  const [zoneId] = made.document.parts[made.partId]!.zoneOrder;
  const env = countingEnv();
  const newEnv = { ...env, newId: () => `new-${env.newId()}` };
  const document = unwrap(addModulator(made.document, { ownerId: zoneId!, kind, paramId, amount }, newEnv));
  return { ...made, document, zoneId: zoneId!, modulatorId: Object.keys(document.modulators)[0]! };
}

function play(
  project: { document: ProjectDocument; assets: LiveSong['assets']; zoneId: string },
  frames: number,
  block = 441,
) {
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(project.document, RATE, { assets: project.assets }));
  renderer.playZone(project.zoneId, 1);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += block) {
    const count = Math.min(block, frames - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
  }
  return { left, right };
}

const rms = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.subarray(from, to).reduce((sum, value) => sum + value * value, 0) / (to - from));

function crossings(samples: Float32Array, from: number, to: number): number {
  let count = 0;
  for (let i = from + 1; i < to; i++) if (samples[i - 1]! < 0 && samples[i]! >= 0) count++;
  return count / ((to - from) / RATE);
}

describe('what modulators move is heard', () => {
  it('pitch: a sine of 2 Hz at full amount goes an octave up and an octave down', () => {
    const { left } = play(moved('tuneCents', 1), RATE);
    // A quarter of the period is at the top, three quarters at the bottom.
    const near = (seconds: number) =>
      crossings(left, Math.round((seconds - 0.02) * RATE), Math.round((seconds + 0.02) * RATE));
    expect(near(0.125)).toBeGreaterThan(1850);
    expect(near(0.375)).toBeLessThan(560);
  });

  it('level: 6 dB up and down is a factor of two (common practice)', () => {
    const { left } = play(moved('gainDb', 0.25), RATE);
    const still = rms(sine(1000, 1), 0, RATE);
    expect(rms(left, 0.12 * RATE, 0.13 * RATE) / still).toBeCloseTo(2, 1);
    expect(rms(left, 0.37 * RATE, 0.38 * RATE) / still).toBeCloseTo(0.5, 1);
  });

  it('pan: from one side to the other', () => {
    const { left, right } = play(moved('pan', 1), RATE);
    expect(rms(left, 0.12 * RATE, 0.13 * RATE)).toBeLessThan(0.02);
    expect(rms(right, 0.37 * RATE, 0.38 * RATE)).toBeLessThan(0.02);
  });

  it('cutoff: closed, an octave opens it by 12 dB', () => {
    const made = moved('cutoffHz', 0.25, 'envelope');
    const sliceIds = Object.keys(made.document.cuts[made.cutId]!.slices);
    const filtered = unwrap(
      setZones(made.document, { partId: made.partId, sliceIds, sound: { filter: 'low', cutoffHz: 100 } }),
    );
    const owners = [{ kind: 'modulator', id: made.modulatorId }] as const;
    const open = unwrap(setValue(filtered, { owners, param: 'sustain', change: { to: 1 } }, countingEnv()));
    const shut = unwrap(setValue(filtered, { owners, param: 'sustain', change: { to: 0 } }, countingEnv()));
    const level = (document: ProjectDocument) => rms(play({ ...made, document }, 2 * RATE).left, RATE, 2 * RATE);
    expect(20 * Math.log10(level(open) / level(shut))).toBeCloseTo(12, 0);
  });

  it('the same at any size of the blocks', () => {
    const made = moved('tuneCents', 0.3);
    const sliceIds = Object.keys(made.document.cuts[made.cutId]!.slices);
    const sound = { filter: 'band', cutoffHz: 900, resonance: 0.4 } as const;
    const document = unwrap(setZones(made.document, { partId: made.partId, sliceIds, sound }));
    const whole = play({ ...made, document }, 30_000, 30_000);
    for (const block of [1, 128, 333]) {
      const other = play({ ...made, document }, 30_000, block);
      expect(firstDifference(other.left, whole.left)).toBe(-1);
      expect(firstDifference(other.right, whole.right)).toBe(-1);
    }
  });
});
