import { describe, expect, it } from 'vitest';
import { Envelope, type EnvelopeShape } from './envelope.ts';

function plain(attackFrames: number, decayFrames: number, sustain: number): EnvelopeShape {
  return { attackFrames, holdFrames: 0, decayFrames, sustain, attackBend: 0, decayBend: 0 };
}

function shape(attackFrames: number, decayFrames: number, sustain: number, frames: number): number[] {
  const envelope = new Envelope();
  envelope.start(plain(attackFrames, decayFrames, sustain));
  return Array.from({ length: frames }, (_, ahead) => envelope.levelAt(ahead));
}

describe('the envelope', () => {
  it('rises in a straight line, falls in a straight line, and stays', () => {
    const levels = shape(99, 100, 0.5, 400);
    expect(levels[0]).toBeCloseTo(0.01, 9);
    expect(levels[49]).toBeCloseTo(0.5, 9);
    expect(Math.max(...levels)).toBe(1);
    expect(levels.indexOf(1)).toBe(99);
    expect(levels[149]).toBeCloseTo(0.75, 9);
    expect(levels.slice(199).every((level) => level === 0.5)).toBe(true);
    for (let i = 1; i < 400; i++) expect(Math.abs(levels[i]! - levels[i - 1]!)).toBeLessThan(0.0101);
  });

  it('is at its sustain at once without attack and decay, and never jumps after an attack', () => {
    expect(shape(0, 0, 0.2, 3)).toEqual([0.2, 0.2, 0.2]);
    const levels = shape(50, 0, 0.2, 200);
    for (let i = 1; i < 200; i++) expect(Math.abs(levels[i]! - levels[i - 1]!)).toBeLessThan(0.03);
    expect(levels[199]).toBe(0.2);
  });

  it('full sustain needs no decay; the level stands still from there on', () => {
    const envelope = new Envelope();
    envelope.start(plain(0, 5000, 1));
    expect([envelope.isSteady, envelope.steadyLevel]).toEqual([true, 1]);
    envelope.start(plain(10, 40, 0.4));
    envelope.ageFrames = 49;
    expect(envelope.isSteady).toBe(false);
    envelope.ageFrames = 50;
    expect([envelope.isSteady, envelope.steadyLevel]).toEqual([true, 0.4]);
  });

  it('goes on from another one’s place', () => {
    const first = new Envelope();
    first.start(plain(100, 100, 0));
    first.ageFrames = 150;
    const second = new Envelope();
    second.follow(first);
    expect(second.levelAt(0)).toBe(first.levelAt(0));
    expect(second.levelAt(60)).toBe(0);
  });
});
