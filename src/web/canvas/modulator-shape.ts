/** A modulator as a curve: its value over one round, or over the time that it takes. */
import { modulatorValue, type ControlView } from '#core/engine/control/modulators.ts';
import { MODULATOR_ROWS, NOTE_RATES, type ModulatorKind } from '#core/params/modulators.ts';
import { fullValues, packValues, type Rows } from '#core/params/row.ts';
import type { Modulator } from '#core/document/schema.ts';
import { textHash } from '#core/units/hash.ts';

/** Rounds shown of what goes round at random: one would be a line. */
const RANDOM_ROUNDS = 8;

const NO_TURNS = new Float64Array(0);

/** Does it have a course in time, to be drawn? */
export function hasCourse(kind: ModulatorKind): boolean {
  return kind === 'lfo' || kind === 'steps' || kind === 'curve' || kind === 'envelope';
}

/** How long what is shown of a modulator takes, in seconds. */
export function courseSeconds(modulator: Modulator, tempoBpm: number): number {
  const values = fullValues(MODULATOR_ROWS[modulator.kind] as Rows, modulator.values);
  if (modulator.kind === 'envelope') {
    const { delayMs, attackMs, holdMs, decayMs, releaseMs } = values as Record<string, number>;
    return (delayMs! + attackMs! + holdMs! + decayMs! * 1.25 + releaseMs!) / 1000 || 0.1;
  }
  const isNotes = values.rateBy === 'notes';
  const quarters = NOTE_RATES.find(({ value }) => value === values.rateNote)?.quarters ?? 1;
  const round = isNotes ? (quarters * 60) / tempoBpm : 1 / (values.rateHz as unknown as number);
  const isRandom = values.wave === 'stepped' || values.wave === 'smooth';
  return round * (isRandom ? RANDOM_ROUNDS : 1);
}

/** Values at equal steps over {@link courseSeconds}, -1..1. */
export function courseOf(modulator: Modulator, tempoBpm: number, count: number): number[] {
  const seconds = courseSeconds(modulator, tempoBpm);
  const { releaseMs = 0 } = fullValues(MODULATOR_ROWS[modulator.kind] as Rows, modulator.values) as {
    releaseMs?: number;
  };
  const plan = {
    id: modulator.id,
    kind: modulator.kind,
    values: packValues(MODULATOR_ROWS[modulator.kind] as Rows, modulator.values),
    steps: modulator.steps ?? [0],
    points: modulator.points ?? [{ at: 0, value: 0 }],
    seed: textHash(modulator.id),
    routes: [],
  };
  return Array.from({ length: count + 1 }, (_, i) => {
    const at = (seconds * Math.min(i, count - 1e-3)) / count;
    const quarters = (at * tempoBpm) / 60;
    const view: ControlView = {
      voiceSeconds: at,
      songSeconds: at,
      voiceQuarters: quarters,
      songQuarters: quarters,
      releasedAtSeconds: modulator.kind === 'envelope' ? seconds - releaseMs / 1000 : Infinity,
      velocity: 1,
      key: 60,
      seed: 1,
      controls: null,
      ahead: 0,
      turns: NO_TURNS,
      sinceSeconds: 0,
    };
    return modulatorValue(plan, view);
  });
}
