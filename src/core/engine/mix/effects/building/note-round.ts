/** Where a round of some length in notes stands: by the song while it runs, by the time that passes where it does not. */
import type { Moment } from '../effect.ts';

const TICKS_PER_QUARTER = 960;

/** @param offset frames behind the moment @param quarters how long a round is @returns 0 and more, below 1 */
export function noteRound(moment: Moment, offset: number, quarters: number): number {
  const { frame, sampleRate, tempoBpm, positionTicks, isRunning } = moment;
  const quartersPerFrame = tempoBpm / 60 / sampleRate;
  const gone = isRunning
    ? positionTicks / TICKS_PER_QUARTER + offset * quartersPerFrame
    : (frame + offset) * quartersPerFrame;
  const rounds = gone / quarters;
  return rounds - Math.floor(rounds);
}

/** Length of a note value in frames, as the tempo is. */
export function noteFrames({ sampleRate, tempoBpm }: Moment, quarters: number): number {
  return (quarters * 60 * sampleRate) / tempoBpm;
}
