import { describe, expect, it } from 'vitest';
import { Envelope } from '#core/engine/voice/envelope.ts';
import { envelopePoints, levelAt } from './envelope-shape.ts';

const RATE = 44100;

describe('the drawn envelope', () => {
  it.each([
    { attackMs: 40, decayMs: 120, sustain: 0.4, releaseMs: 60 },
    { attackMs: 0, decayMs: 300, sustain: 0, releaseMs: 5 },
    { attackMs: 200, decayMs: 0, sustain: 1, releaseMs: 500 },
  ])('goes where the voice goes: $attackMs, $decayMs, $sustain', (values) => {
    const points = envelopePoints(values, 500);
    const voice = new Envelope();
    const frames = (ms: number) => Math.round((ms / 1000) * RATE);
    voice.start(frames(values.attackMs), frames(values.decayMs), values.sustain);
    for (let timeMs = 1; timeMs < points[3].timeMs; timeMs += 7) {
      expect(levelAt(points, timeMs)).toBeCloseTo(voice.levelAt(frames(timeMs)), 2);
    }
  });

  it('is let go at the end of the slice, or after the decay where that is longer, and falls to silence', () => {
    const values = { attackMs: 400, decayMs: 400, sustain: 0.5, releaseMs: 100 };
    expect(envelopePoints(values, 100)[3].timeMs).toBeGreaterThan(800);
    const points = envelopePoints(values, 2000);
    expect(points[3]).toEqual({ timeMs: 2000, level: 0.5 });
    expect(levelAt(points, 2050)).toBeCloseTo(0.25);
    expect(levelAt(points, 2101)).toBe(0);
  });
});
