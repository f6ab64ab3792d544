/** The hits of a long recording, and how much each is a drum: heard in stretches, so that no more is held than one of them. */
import { measureBandEnergies } from '../band-energies.ts';
import { onsetSteps } from '../detect-onsets.ts';
import { drumOdds, type DrumOdds } from '../ears/hear-roles.ts';
import { DEFAULT_SELECTION, selectOnsets } from '../select-onsets.ts';
import { runToEnd, type Steps } from '../../units/steps.ts';

/** A hit of a recording, and what sounds from it to the next one. */
export interface HeardHit extends DrumOdds {
  /** Where it may be cut, and where its attack begins. */
  frame: number;
  attackFrame: number;
  /** 0..1 */
  strength: number;
}

const STRETCH_SECONDS = 20;
/** Before and after a stretch so much is heard with it: what begins there is judged by what surrounds it. */
const AROUND_SECONDS = 1;

/** Steps yield the share done. */
export function* hearHits(signal: Float32Array, sampleRate: number): Steps<HeardHit[]> {
  const stretch = STRETCH_SECONDS * sampleRate;
  const around = AROUND_SECONDS * sampleRate;
  const found: HeardHit[] = [];
  for (let from = 0; from < signal.length; from += stretch) {
    yield from / signal.length;
    const start = Math.max(0, from - around);
    const part = signal.subarray(start, Math.min(signal.length, from + stretch + around));
    // Nothing is taken for a voice: what is looked for are drums, also right after talk.
    const { onsets } = runToEnd(onsetSteps(part, sampleRate, measureBandEnergies(part, sampleRate), undefined, []));
    const hits = selectOnsets(onsets, sampleRate, DEFAULT_SELECTION);
    const slices = hits.map(({ frame }, place) => ({
      startFrame: frame,
      endFrame: hits[place + 1]?.frame ?? part.length,
    }));
    const odds = drumOdds(part, sampleRate, slices);
    for (const [place, { frame, attackFrame, strength }] of hits.entries()) {
      const at = start + frame;
      if (at < from || at >= from + stretch) continue;
      found.push({ frame: at, attackFrame: start + attackFrame, strength, ...odds[place]! });
    }
  }
  return found;
}
