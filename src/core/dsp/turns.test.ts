import { expect, it } from 'vitest';
import { seededRandom } from '../units/random.ts';
import { turn } from './turns.ts';

it('sines and cosines are those of the platform, also after many rounds and at the edges of the table', () => {
  const random = seededRandom(3);
  const edges = [0, 0.25, 0.5, 0.75, 1, 1 / 8192, 1 - 1e-12, 3 / 8192];
  const rounds = Float64Array.from([...edges, ...Array.from({ length: 5000 }, () => 40 * random())]);
  const [sines, cosines] = [rounds.slice(), rounds.slice()];
  turn(rounds, sines, cosines, rounds.length);
  rounds.forEach((round, i) => {
    expect(Math.abs(sines[i]! - Math.sin(2 * Math.PI * round))).toBeLessThan(1e-10);
    expect(Math.abs(cosines[i]! - Math.cos(2 * Math.PI * round))).toBeLessThan(1e-10);
  });
});
