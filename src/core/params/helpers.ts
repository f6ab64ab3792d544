/** What may stand on the way to the keys of a part, and its settings. A new kind is a file of rows and a line here. */
import { CHORD_ROWS } from './helper-rows/chord.ts';
import { ECHOES_ROWS } from './helper-rows/echoes.ts';
import { RUNNER_ROWS } from './helper-rows/runner.ts';
import type { Rows } from './row.ts';

export const HELPER_ROWS = {
  chord: CHORD_ROWS,
  runner: RUNNER_ROWS,
  echoes: ECHOES_ROWS,
} as const satisfies Record<string, Rows>;
export type HelperKind = keyof typeof HELPER_ROWS;
export const HELPER_KINDS = Object.keys(HELPER_ROWS) as HelperKind[];

export const HELPER_WORDS: Readonly<Record<HelperKind, string>> = {
  chord: 'chord',
  runner: 'runner',
  echoes: 'echoes',
};
/** More than these on one way nobody could follow. */
export const MOST_HELPERS = 8;
/** Steps of a drawn row of strengths. */
export const LEAST_STEPS = 2;
export const MOST_STEPS = 32;
/** Notes of a chord. */
export const MOST_NOTES = 8;
/** How far an interval goes, in semitones. */
export const WIDEST_INTERVAL = 36;
