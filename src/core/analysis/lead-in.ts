/**
 * The soft part that some sounds have before they are loud: the scrape of a scraper, the finger on a string. Two shapes
 * tell it from what sounded before:
 * - a swell: going back from the attack the level keeps falling;
 * - a damped string: the note before stops at once, and the new one begins right there, quietly.
 * A gentle attack, without a burst in any band, lies under what rings: it may have begun a little earlier.
 */

const STEP_SECONDS = 0.0025;
/** As far back as a soft part is looked for: 35 ms. */
const REACH_STEPS = 14;

/** A swell falls by at least this... */
const SWELL_DB = 8;
/** ...along a line that misses the levels by no more than this (root mean square)... */
const SWELL_MISFIT_DB = 3;
/** ...over at least so many steps: quicker rises are placed by their attack. */
const MIN_SWELL_STEPS = 4;
/** ...and goes on: where the attack jumps up by this, what was before is another sound. */
const SWELL_JUMP_DB = 10;

/** The soft part holds its level within this... */
const PLATEAU_DB = 8;
/** ...for at least this many steps. */
const MIN_SOFT_STEPS = 3;
/** The note before stands this far above it and drops within so many steps. */
const DAMPED_DB = 14;
const DAMPING_STEPS = 3;
const DAMPED_TOP_DB = 2;
/** Quieter than this it is no soft part but silence. */
const SILENCE_DB = -75;
/** Damping is heard of low notes: these bands (see band-energies.ts) rise by so much, or by no more. */
const LOW_BAND = 1;
const LOW_RISE_DB = 8;
const TOP_BAND = 8;
const TOP_RISE_DB = 10;
/** A gentle attack rises by no more than this in any band, in the top band, and by more in the mean of the low ones... */
const GENTLE_RISE_DB = 18;
const GENTLE_TOP_RISE_DB = 8;
const GENTLE_LOW_RISE_DB = 4;
/** ...and began so much before it shows. */
const GENTLE_SECONDS = 0.003;

/** What of a sound lies before its attack shows, in frames. */
export interface LeadIn {
  /** Length of its soft part, 0 without. */
  softFrames: number;
  /** How far back a gentle attack may have begun, unseen; 0 for others. */
  hiddenFrames: number;
}

/**
 * @param startFrame where the attack shows
 * @param risesDb rises of the bands at the attack, the short ones first; see onset-features.ts
 */
export function leadIn(
  signal: Float32Array,
  sampleRate: number,
  startFrame: number,
  risesDb: readonly number[],
): LeadIn {
  const step = Math.round(STEP_SECONDS * sampleRate);
  const levels: number[] = [];
  for (let k = 0; k < REACH_STEPS + 2 * DAMPING_STEPS; k++) {
    levels.push(levelDb(signal, startFrame - (k + 1) * step, step));
  }
  const isLow = risesDb[LOW_BAND]! >= LOW_RISE_DB && risesDb[TOP_BAND]! <= TOP_RISE_DB;
  const jumpDb = levelDb(signal, startFrame, step) - levels[0]!;
  const steps = Math.max(jumpDb < SWELL_JUMP_DB ? swellSteps(levels) : 0, isLow ? dampedSteps(levels) : 0);
  const lowRise = (risesDb[0]! + risesDb[1]! + risesDb[2]! + risesDb[3]!) / 4;
  const isGentle =
    risesDb[TOP_BAND]! < GENTLE_TOP_RISE_DB &&
    lowRise > GENTLE_LOW_RISE_DB &&
    risesDb.every((rise) => rise < GENTLE_RISE_DB);
  return {
    softFrames: Math.round(steps * STEP_SECONDS * sampleRate),
    hiddenFrames: isGentle ? Math.round(GENTLE_SECONDS * sampleRate) : 0,
  };
}

/** How many steps back the swell began: where a falling line goes over into an even level, best fit of both. */
function swellSteps(levels: readonly number[]): number {
  const all = levels.slice(0, REACH_STEPS + 3);
  let best = Infinity;
  let steps = 0;
  for (let k = MIN_SWELL_STEPS; k <= REACH_STEPS; k++) {
    const even = all.slice(k).reduce((sum, level) => sum + level, 0) / (all.length - k);
    // The line ends where the even part begins: only its slope is free.
    let up = 0;
    let down = 1e-9;
    for (let i = 0; i < k; i++) {
      up += (k - i) * (all[i]! - even);
      down += (k - i) ** 2;
    }
    const slope = up / down;
    const error = all.reduce((sum, level, i) => sum + (level - even - (i < k ? slope * (k - i) : 0)) ** 2, 0);
    if (error < best && slope * k > SWELL_DB) {
      best = error;
      steps = k;
    }
  }
  return Math.sqrt(best / all.length) < SWELL_MISFIT_DB ? steps : 0;
}

/** How many steps back the note before was damped. */
function dampedSteps(levels: readonly number[]): number {
  let most = levels[0]!;
  let least = most;
  let k = 1;
  while (k <= REACH_STEPS && levels[k]! <= least + PLATEAU_DB && levels[k]! >= most - PLATEAU_DB) {
    most = Math.max(most, levels[k]!);
    least = Math.min(least, levels[k]!);
    k++;
  }
  const before = Math.max(...levels.slice(k, k + DAMPING_STEPS));
  if (k < MIN_SOFT_STEPS || before - most < DAMPED_DB || least < SILENCE_DB) return 0;
  while (levels[k]! < before - DAMPED_TOP_DB) k++;
  return k;
}

/** Mean square of a stretch in dB; silence is -100. */
function levelDb(signal: Float32Array, from: number, length: number): number {
  let sum = 1e-10 * length;
  for (let i = Math.max(0, from); i < from + length; i++) sum += signal[i]! * signal[i]!;
  return 10 * Math.log10(sum / length);
}
