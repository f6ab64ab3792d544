/** How long a running order lasts. */
import { TempoMap } from './tempo-map.ts';
import type { LaidOrder } from './layout.ts';
import { tempoStretches } from './tempi.ts';

/** @param untilTicks up to there; to its end where it is left out */
export function orderSeconds({ sections, lengthTicks }: LaidOrder, untilTicks = lengthTicks): number {
  return sections.length === 0 ? 0 : new TempoMap(tempoStretches(sections), 1).framesAt(untilTicks);
}
