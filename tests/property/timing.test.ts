/** Settings of time changed at random while the engine plays: it always sounds like sound, and stops when told. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { FOLLOWS, MATERIALS, TAILS } from '#core/params/choices.ts';
import { loopProject, unwrap } from '../support/documents.ts';
import { eightStepLoop } from '../support/signals.ts';
import { setPart, setSong } from '../support/edits.ts';

const RATE = 44100;
const change = fc.record({
  frames: fc.integer({ min: 1, max: 9_000 }),
  tempoBpm: fc.integer({ min: 20, max: 400 }),
  swingPercent: fc.integer({ min: 50, max: 75 }),
  settings: fc.record({
    follow: fc.constantFrom(...FOLLOWS.map(({ value }) => value)),
    tail: fc.constantFrom(...TAILS.map(({ value }) => value)),
    material: fc.constantFrom(...MATERIALS),
    transposeCents: fc.constantFrom(0, -1200, 750, 4800),
    transposeAt: fc.constantFrom('now' as const, 'bar' as const),
    feelPercent: fc.integer({ min: 0, max: 100 }),
    startOffsetTicks: fc.constantFrom(0, -960, 777, 3840),
    ringOver: fc.boolean(),
    oneAtATime: fc.boolean(),
  }),
});

/** A slice rings on, to the frame at the end of its own length, when its part is to be stretched instead. */
const settings = {
  follow: 'slices' as const,
  tail: 'leave' as const,
  material: 'drums' as const,
  transposeCents: 0 as const,
  transposeAt: 'now' as const,
  feelPercent: 0,
  startOffsetTicks: 0 as const,
  ringOver: false,
  oneAtATime: false,
};
const ringsAtItsEnd = [
  { frames: 4_897, tempoBpm: 65, swingPercent: 50, settings },
  {
    frames: 8_808,
    tempoBpm: 166,
    swingPercent: 50,
    settings: { ...settings, tail: 'ring' as const, startOffsetTicks: -960 as const, oneAtATime: true },
  },
  {
    frames: 1,
    tempoBpm: 120,
    swingPercent: 50,
    settings: { ...settings, follow: 'stretch' as const, transposeCents: 4_800 as const },
  },
];

describe('time, changed while it plays', () => {
  it('leaves no sample that is no number, nothing beyond reason, and no voice that goes on after the stop', () => {
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 6 }), (changes) => {
        const { audio, starts } = eightStepLoop(22_050);
        const made = loopProject(audio, starts);
        let { document } = made;
        const renderer = new Renderer(RATE);
        let isPlaying = false;
        for (const { frames, tempoBpm, swingPercent, settings } of changes) {
          document = unwrap(setPart(document, { partId: made.partId, settings }, made.env));
          document = unwrap(setSong(document, { tempoBpm }));
          document = unwrap(setSong(document, { swingPercent }));
          renderer.setPlan(
            compilePlan(document, RATE, { assets: made.assets, renderings: renderAll(document, made.assets) }),
          );
          if (!isPlaying) renderer.play();
          isPlaying = true;
          const left = new Float32Array(frames);
          renderer.process(left, new Float32Array(frames), frames);
          expect(left.every((sample) => Math.abs(sample) < 8)).toBe(true);
        }
        renderer.stop();
        const tail = new Float32Array(RATE / 10);
        renderer.process(tail, new Float32Array(tail.length), tail.length);
        expect(tail.subarray(2_000).every((sample) => sample === 0)).toBe(true);
      }),
      { numRuns: 40, examples: [[ringsAtItsEnd]] },
    );
  });
});
