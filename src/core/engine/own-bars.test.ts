/** A loop whose bars are of different lengths keeps the song's time bar by bar, whichever way it follows. */
import { describe, expect, it } from 'vitest';
import { loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { setSong } from '../../../tests/support/edits.ts';
import { entries, planOf, play, set } from '../../../tests/support/playing.ts';
import { burstLoop } from '../../../tests/support/signals.ts';
import { setLoop } from '../project/commands/parts.ts';
import { soundingSlice } from '../takeaway/sounding-slices.ts';
import { cutRetiming, readCut } from './plan/read-cut.ts';
import { wantedRenderings } from './plan/wanted-renderings.ts';

const RATE = 44_100;
const STEPS = 8;
/** Bars of a player who rushes; together as long as four of two seconds. */
const LENGTHS = [91_000, 89_500, 87_300, 85_000];
const LINES = LENGTHS.reduce((lines, length) => [...lines, lines.at(-1)! + length], [0]);

/** Four bars of bursts on eighths of their own bar. */
function rushing(): LoopProject {
  const starts = LENGTHS.flatMap((length, bar) =>
    Array.from({ length: STEPS }, (_, step) => Math.round(LINES[bar]! + (length * step) / STEPS)),
  );
  return loopProject(burstLoop(LINES.at(-1)!, starts), starts, 4);
}

function withOwnBars(project: LoopProject): LoopProject {
  const loop = { barFrames: LINES.slice(1, -1) };
  return { ...project, document: unwrap(setLoop(project.document, { cutId: project.cutId, loop }, project.env)) };
}

/** How far, at most, its hits are heard from the song's eighths, in frames. */
function mostOff(project: LoopProject, tempoBpm: number, from = 0): number {
  const eighth = (RATE * 60) / tempoBpm / 2;
  const heard = entries(play(planOf(project), Math.round(eighth * 4 * STEPS) - 2_000), 800).slice(from);
  expect(heard).toHaveLength(4 * STEPS - from);
  return Math.max(...heard.map((frame, place) => Math.abs(frame - (place + from) * eighth)));
}

describe('a loop with bars of its own', () => {
  it('sits on the song’s eighths by slices, at any tempo; with bars of one length it does not', () => {
    const made = rushing();
    for (const tempoBpm of [88, 119.5, 141]) {
      const even = set(made, { tail: 'leave' }, tempoBpm);
      expect(mostOff(even, tempoBpm)).toBeGreaterThan(900);
      expect(mostOff(withOwnBars(even), tempoBpm)).toBeLessThanOrEqual(2);
    }
  });

  it('and stretched, also at its own tempo, each slice as long as its place', () => {
    const made = withOwnBars(rushing());
    for (const tempoBpm of [100, 120, 133]) {
      const stretched = set(made, { follow: 'stretch' }, tempoBpm);
      // Where the samples are made anew the burst may begin a little within its first ones.
      expect(mostOff(stretched, tempoBpm)).toBeLessThanOrEqual(24);
      const eighth = (RATE * 60) / tempoBpm / 2;
      for (const { length } of wantedRenderings(stretched.document)) expect(Math.abs(length - eighth)).toBeLessThan(2);
    }
  });

  it('by speed the slow bars are played faster', () => {
    const made = set(withOwnBars(rushing()), { follow: 'speed' }, 120);
    const zones = planOf(made).patch.zones.map(({ loopTempoBpm }) => loopTempoBpm);
    expect(zones[0]).toBeCloseTo((4 * 60 * RATE) / LENGTHS[0]!, 2);
    expect(zones.at(-1)).toBeCloseTo((4 * 60 * RATE) / LENGTHS[3]!, 2);
    expect(mostOff(made, 120)).toBeLessThanOrEqual(2);
  });

  it('rings on far enough for its longest bar', () => {
    const made = withOwnBars(rushing());
    const cut = made.document.cuts[made.cutId]!;
    const { tempoBpm } = readCut(made.document, cut);
    // At its own tempo the bars that were played faster need more than there is of them.
    const same = unwrap(setSong(made.document, { tempoBpm }));
    expect(cutRetiming(same, same.cuts[made.cutId]!)?.fill).toBe('ring');
    const faster = unwrap(setSong(made.document, { tempoBpm: tempoBpm * 1.05 }));
    expect(cutRetiming(faster, faster.cuts[made.cutId]!)).toBeNull();
  });

  it('gives away each slice as long as it sounds', () => {
    const { document, partId, cutId } = set(withOwnBars(rushing()), { follow: 'stretch' }, 120);
    const ids = Object.keys(document.cuts[cutId]!.slices);
    for (const id of [ids[0]!, ids.at(-1)!]) {
      expect(soundingSlice(document, document.parts[partId]!, cutId, id)!.lengthTicks).toBeCloseTo(480, 0);
    }
  });
});
