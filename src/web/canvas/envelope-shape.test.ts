import { describe, expect, it } from 'vitest';
import { Envelope } from '#core/engine/voice/envelope.ts';
import { drawnPoints, envelopePoints, levelAt, POINT } from './envelope-shape.ts';

const RATE = 44100;

describe('the drawn envelope', () => {
  it.each([
    { attackMs: 40, decayMs: 120, sustain: 0.4, releaseMs: 60 },
    { attackMs: 0, decayMs: 300, sustain: 0, releaseMs: 5 },
    { attackMs: 200, decayMs: 0, sustain: 1, releaseMs: 500 },
    { attackMs: 60, holdMs: 90, decayMs: 150, sustain: 0.3, releaseMs: 60, attackBend: 0.6, decayBend: -0.4 },
  ])('goes where the voice goes: $attackMs, $decayMs, $sustain', (values) => {
    const points = envelopePoints(values, 500);
    const voice = new Envelope();
    const frames = (ms: number) => Math.round((ms / 1000) * RATE);
    voice.start({
      attackFrames: frames(values.attackMs),
      holdFrames: frames(values.holdMs ?? 0),
      decayFrames: frames(values.decayMs),
      sustain: values.sustain,
      attackBend: values.attackBend ?? 0,
      decayBend: values.decayBend ?? 0,
    });
    for (let timeMs = 1; timeMs < points[POINT.letGo].timeMs; timeMs += 7) {
      expect(levelAt(points, timeMs)).toBeCloseTo(voice.levelAt(frames(timeMs)), 2);
    }
  });

  it('is let go at the end of the slice, or after the decay where that is longer, and falls to silence', () => {
    const values = { attackMs: 400, decayMs: 400, sustain: 0.5, releaseMs: 100 };
    expect(envelopePoints(values, 100)[POINT.letGo].timeMs).toBeGreaterThan(800);
    const points = envelopePoints(values, 2000);
    expect(points[POINT.letGo]).toMatchObject({ timeMs: 2000, level: 0.5 });
    expect(levelAt(points, 2050)).toBeCloseTo(0.25);
    expect(levelAt(points, 2101)).toBe(0);
  });

  it('waits for its delay, and is drawn in pieces where it is bent', () => {
    const values = { delayMs: 100, attackMs: 100, decayMs: 100, sustain: 0.5, releaseMs: 100, attackBend: 0.5 };
    const points = envelopePoints(values, 1000);
    expect([levelAt(points, 99), levelAt(points, 200)]).toEqual([0, 1]);
    expect(levelAt(points, 150)).toBeGreaterThan(0.8);
    for (const { timeMs, level } of drawnPoints(points).slice(1, -1))
      expect(levelAt(points, timeMs)).toBeCloseTo(level, 6);
  });
});
