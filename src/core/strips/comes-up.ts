/** In which of its pattern's rounds a strip is heard: those that it is written for, and of them the ones that chance gives. */
import { mix32 } from '../units/hash.ts';

/** Is it written for a round, counted from 0? It is for the last of every so many. */
export function isInRound(everyRounds: number, round: number): boolean {
  return everyRounds <= 1 || (round + 1) % everyRounds === 0;
}

/** What its chances in a round are drawn from: 32 bits. @param seed the strip's own */
export const drawOf = (seed: number, round: number): number => mix32(seed, round);

/** Does chance give it? @param draw see {@link drawOf} */
export function isGiven(chancePercent: number, draw: number): boolean {
  return chancePercent >= 100 || draw / 42949672.96 < chancePercent;
}
