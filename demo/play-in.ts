/** Plays presses into a new pattern of two bars, as a user records them. */
import type { PlayedPress } from '#core/patterns/played.ts';
import { recordedStrip } from '#core/patterns/recorded.ts';
import { colourPattern, layPattern } from '#core/project/commands/patterns.ts';
import { partTiming } from '#core/queries/loops.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import type { ProjectMaker } from './project-maker.ts';

export const BAR_TICKS = 4 * TICKS_PER_BEAT;
const LENGTH_TICKS = 2 * BAR_TICKS;

/** @param press `tuneCents`: how far its key lies from the sound's own */
export function playIn(
  maker: ProjectMaker,
  partId: string,
  { name, colour, pull = 0 }: { name: string; colour: number; pull?: number },
  presses: readonly (PlayedPress & { tuneCents?: number })[],
): void {
  const pattern = {
    lengthTicks: LENGTH_TICKS,
    offsetTicks: 0,
    timing: partTiming(maker.document, maker.document.parts[partId]!),
  };
  const rules = { pull, gridTicks: TICKS_PER_BEAT / 4, gridSwings: true, earlierTicks: 0 };
  const strips = presses.map(
    ({ tuneCents = 0, ...press }) => recordedStrip(press, pattern, rules, { wholeTicks: null, tuneCents }).strip,
  );
  maker.run(layPattern, { partId, name, lengthTicks: LENGTH_TICKS, strips });
  maker.run(colourPattern, { patternId: maker.document.parts[partId]!.activePatternId, colour });
}
