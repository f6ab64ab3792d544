/** A loop in triplets: its part is measured on them, heard on them, and follows another reading unless told otherwise. */
import { describe, expect, it } from 'vitest';
import { countingEnv, FOUND_HIT, loopProject, unwrap, type LoopProject } from '../../../../tests/support/documents.ts';
import { setPart } from '../../../../tests/support/edits.ts';
import { planOf, play } from '../../../../tests/support/playing.ts';
import { burstLoop } from '../../../../tests/support/signals.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { cutValues, partValues } from '../../queries/values.ts';
import { setLoop } from './parts.ts';
import { replaceLoop } from './replace-loop.ts';

const RATE = 44_100;
const BAR_FRAMES = 88_200;
const TRIPLETS = Array.from({ length: 12 }, (_, hit) => Math.round((hit * BAR_FRAMES) / 12));
const SIXTEENTHS = Array.from({ length: 16 }, (_, hit) => Math.round((hit * BAR_FRAMES) / 16));

const loopOf = (starts: readonly number[]): LoopProject => loopProject(burstLoop(BAR_FRAMES, starts), starts);
const stepOf = ({ partId }: LoopProject, document: ProjectDocument) => partValues(document.parts[partId]!).feelStep;

describe('the grid of a part', () => {
  it('is that of its loop', () => {
    const triplets = loopOf(TRIPLETS);
    const straight = loopOf(SIXTEENTHS);
    expect(stepOf(triplets, triplets.document)).toBe('triplets');
    expect(stepOf(straight, straight.document)).toBe('sixteenths');
    // A cut on a grid begins with it.
    expect(cutValues(triplets.document.cuts[triplets.cutId]!).stepTicks).toBe(320);
    expect(cutValues(straight.document.cuts[straight.cutId]!).stepTicks).toBe(240);
    // What is as it always was is not stored.
    expect(straight.document.parts[straight.partId]!.values).toEqual({});
  });

  it('without any feel of its own the loop sits on it: late triplets become triplets, not sixteenths', () => {
    const late = TRIPLETS.map((start, hit) => (hit % 3 === 0 ? start : start + 300));
    const made = loopOf(late);
    const drawn = unwrap(setPart(made.document, { partId: made.partId, settings: { feelPercent: 0 } }));
    const heard = play(planOf({ ...made, document: drawn }), BAR_FRAMES);
    for (const [hit, start] of TRIPLETS.entries()) {
      const loudest = heard.subarray(start, start + 300).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
      expect(loudest, `hit ${hit}`).toBeGreaterThan(0.2);
      const before = heard.subarray(Math.max(0, start - 800), Math.max(0, start - 8));
      expect(
        before.reduce((most, x) => Math.max(most, Math.abs(x)), 0),
        `before hit ${hit}`,
      ).toBeLessThan(0.05);
    }
  });

  it('follows another reading, and goes back with it; what was chosen by hand stays', () => {
    const made = loopOf(TRIPLETS);
    const read = (document: ProjectDocument, bars: number) =>
      unwrap(setLoop(document, { cutId: made.cutId, loop: { bars } }, countingEnv()));
    const threeBars = read(made.document, 3);
    expect(stepOf(made, threeBars)).toBe('sixteenths');
    expect(stepOf(made, read(threeBars, 1))).toBe('triplets');
    const none = unwrap(setLoop(made.document, { cutId: made.cutId, loop: null }, countingEnv()));
    expect(stepOf(made, none)).toBe('sixteenths');
    const chosen = unwrap(setPart(made.document, { partId: made.partId, settings: { feelStep: 'short triplets' } }));
    expect(stepOf(made, read(chosen, 3))).toBe('short triplets');
  });

  it('is that of the loop that takes its place', () => {
    const made = loopOf(TRIPLETS);
    const other = {
      source: { id: 'b'.repeat(64), name: 'straight', sampleRate: RATE, channels: 1 as const, frames: BAR_FRAMES },
      loop: { startFrame: 0, endFrame: BAR_FRAMES, bars: 1, beatsPerBar: 4 },
      tempoReadings: [],
      slices: SIXTEENTHS.map((startFrame) => ({ ...FOUND_HIT, startFrame })),
    };
    const replaced = unwrap(replaceLoop(made.document, { cutId: made.cutId, ...other }, countingEnv()));
    expect(stepOf(made, replaced)).toBe('sixteenths');
  });
});
