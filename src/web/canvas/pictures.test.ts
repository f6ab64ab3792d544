import { expect, it } from 'vitest';
import { PictureGate } from './pictures.ts';

const drawn = (gate: PictureGate, from: number, count: number, eachMs: number) =>
  Array.from({ length: count }, (_, n) => gate.due(from + n * eachMs)).filter(Boolean).length;

it('draws every picture of a screen that is kept up with, every third of one that is not, and each again', () => {
  const gate = new PictureGate(8);
  expect(drawn(gate, 0, 120, 16.7)).toBe(120);
  // One that stutters: each second picture is missed.
  drawn(gate, 3000, 60, 33.4);
  expect(drawn(gate, 6000, 60, 33.4)).toBe(20);
  drawn(gate, 10_000, 400, 16.7);
  expect(drawn(gate, 20_000, 60, 16.7)).toBe(60);
});

it('tells all who ask at one picture the same', () => {
  const gate = new PictureGate(8);
  drawn(gate, 0, 200, 40);
  for (let at = 9000; at < 9400; at += 40) expect(gate.due(at)).toBe(gate.due(at));
});

it('draws every second picture where there are two processors', () => {
  expect(drawn(new PictureGate(2), 0, 120, 16.7)).toBe(60);
});
