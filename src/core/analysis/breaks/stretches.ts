/**
 * Where in a recording drums play alone: stretches of hits, by the likeliest course between two states that seldom change
 * (A. Viterbi, "Error bounds for convolutional codes", IEEE Trans. Information Theory 13, 1967).
 */
import type { HeardHit } from './hear-hits.ts';

/** Half-open ranges of hits. */
export interface Stretch {
  firstHit: number;
  endHit: number;
}

/** What a change of state costs, in nepers of likelihood; and how sure a single hit can be. */
const CHANGE = 6;
const MOST_SURE = 3;
/** Drums have to be likelier than this to count for drums. */
const EVEN = 0.9;
/** In a pause of this many seconds nothing goes on. */
const PAUSE_SECONDS = 2.5;
const FEWEST_HITS = 6;

const logOdds = (share: number) => Math.log(share / (1 - share));

/** @param isWanted how much each hit speaks for a stretch that is looked for, 0..1 */
export function findStretches(hits: readonly HeardHit[], isWanted: readonly number[], sampleRate: number): Stretch[] {
  if (hits.length === 0) return [];
  const speaks = isWanted.map((share) => {
    const bounded = Math.min(1 - 1e-4, Math.max(1e-4, share));
    return Math.max(-MOST_SURE, Math.min(MOST_SURE, logOdds(bounded) - logOdds(EVEN))) / 2;
  });
  // Best sums that end outside and inside, and from which state each was come to.
  let [outside, inside] = [0, -CHANGE];
  const cameFrom: [outside: boolean, inside: boolean][] = [];
  for (const [place, speak] of speaks.entries()) {
    const isPause = place > 0 && hits[place]!.frame - hits[place - 1]!.frame > PAUSE_SECONDS * sampleRate;
    const stays = isPause ? inside - CHANGE : inside;
    const goesOut = inside - CHANGE;
    const goesIn = outside - CHANGE;
    cameFrom.push([goesOut > outside, stays >= goesIn]);
    [outside, inside] = [Math.max(outside, goesOut) - speak, Math.max(stays, goesIn) + speak];
  }
  const states = new Array<boolean>(hits.length);
  let isInside = inside > outside;
  for (let place = hits.length - 1; place >= 0; place--) {
    states[place] = isInside;
    isInside = cameFrom[place]![isInside ? 1 : 0];
  }
  const found: Stretch[] = [];
  for (let place = 0; place < states.length;) {
    let end = place;
    while (end < states.length && states[end]) end++;
    if (end - place >= FEWEST_HITS) found.push({ firstHit: place, endHit: end });
    place = Math.max(end, place + 1);
  }
  return found;
}
