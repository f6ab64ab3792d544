/** Tempo over the running order: its course, and for which tempi stretched samples are to be there. */
import type { LaidSection } from './layout.ts';

export interface TempoStretch {
  startTicks: number;
  /** At its beginning, and at its end: where the next begins. The last one stays. */
  fromBpm: number;
  toBpm: number;
}

/** The tempo over the sections: what stays the same is one stretch. */
export function tempoStretches(sections: readonly LaidSection[]): TempoStretch[] {
  const stretches: TempoStretch[] = [];
  const put = (stretch: TempoStretch) => {
    // What has arrived at its very end does not stay.
    if (stretches.at(-1)?.startTicks === stretch.startTicks) stretches.pop();
    const before = stretches.at(-1);
    const isSame = before && before.fromBpm === before.toBpm && stretch.fromBpm === stretch.toBpm;
    if (!isSame || before.toBpm !== stretch.fromBpm) stretches.push(stretch);
  };
  for (const { startTicks, tempoBefore, tempoBpm, arriveTicks } of sections) {
    if (arriveTicks > 0) put({ startTicks, fromBpm: tempoBefore, toBpm: tempoBpm });
    put({ startTicks: startTicks + arriveTicks, fromBpm: tempoBpm, toBpm: tempoBpm });
  }
  return stretches;
}

/** Steps of a way from one tempo to another are as near as this: slices are stretched for each. */
const STEP_RATIO = 1.03;
/** No more tempi than this are rendered for. */
const MOST_TEMPI = 48;

/** Tempi that stretched samples are to be there for, the slowest first. */
export function orderTempi(sections: readonly LaidSection[]): number[] {
  const tempi = new Set<number>();
  for (const { tempoBefore, tempoBpm, arriveTicks } of sections) {
    tempi.add(tempoBpm);
    if (arriveTicks === 0) continue;
    const [slow, fast] = [Math.min(tempoBefore, tempoBpm), Math.max(tempoBefore, tempoBpm)];
    const steps = Math.ceil(Math.log(fast / slow) / Math.log(STEP_RATIO));
    for (let step = 0; step < steps; step++) tempi.add(slow * (fast / slow) ** (step / steps));
  }
  return [...tempi].sort((a, b) => a - b).slice(0, MOST_TEMPI);
}
