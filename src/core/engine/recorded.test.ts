/** What is recorded on keys comes back where it was played, whatever moves the part's events; or exactly on the grid. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layPattern } from '#core/project/commands/patterns.ts';
import { setGroove } from '#core/project/commands/parts.ts';
import { partTiming } from '#core/queries/loops.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { framesPerTick } from '#core/units/time.ts';
import { setPart, setSong } from '../../../tests/support/edits.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { pressesOf } from '../patterns/presses.ts';
import { recordedStrip, type RecordRules } from '../patterns/recorded.ts';
import { compilePlan } from './plan/compile.ts';
import { Renderer } from './renderer.ts';
import { plainTiming, timedTicks, untimedTicks } from '../strips/timing.ts';

const RATE = 44100;
const BAR = 3840;
const AS_PLAYED: RecordRules = { pull: 0, gridTicks: 240, gridSwings: true, earlierTicks: 0 };

function song(tempoBpm: number, swingPercent: number, groovePercent: number) {
  const { audio, starts } = eightStepLoop();
  const made = loopProject(audio, starts);
  const { partId } = made;
  const timed = unwrap(setSong(made.document, { tempoBpm, swingPercent }));
  const set = unwrap(setPart(timed, { partId, settings: { oneAtATime: false, groovePercent } }));
  const steps = Array.from({ length: 16 }, (_, step) => ({ shift: step % 4 === 3 ? 0.2 : -0.05, accent: 1 }));
  const document = unwrap(setGroove(set, { partId, groove: { name: 'made up', stepTicks: 240, steps } }, made.env));
  const low = zonesOfPart(document, document.parts[partId]!)[0]!.keys!.low;
  return { ...made, document, low };
}

/** Presses keys on frames while the song runs, and records them. */
function record(made: ReturnType<typeof song>, frames: readonly number[], rules: RecordRules) {
  const { document, assets, partId, low } = made;
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(document, RATE, { assets }));
  renderer.play();
  frames.forEach((frame, noteId) => {
    renderer.addNote({ kind: 'on', noteId, partId, key: low + (noteId % 8), velocity: 1, frame });
    renderer.addNote({ kind: 'off', noteId, partId, key: 0, velocity: 0, frame: frame + 900 });
  });
  const count = Math.max(...frames) + 2000;
  renderer.process(new Float32Array(count), new Float32Array(count), count);
  const timing = { ticksPerFrame: 1 / framesPerTick(120, RATE), ticksPerSongTick: 1, sampleRate: RATE };
  const { presses } = pressesOf(renderer.log.takeAll(), partId, timing);
  const pattern = { lengthTicks: BAR, offsetTicks: 0, timing: partTiming(document, document.parts[partId]!) };
  return presses.map((press) => recordedStrip(press, pattern, rules, { wholeTicks: null, tuneCents: 0 }));
}

/** Frames on which strips are heard in the first two rounds. */
function heardFrames(
  made: ReturnType<typeof song>,
  strips: readonly ReturnType<typeof recordedStrip>[],
  frames: number,
) {
  const { partId, env, assets } = made;
  const laid = { partId, name: '', lengthTicks: BAR, strips: strips.map(({ strip }) => strip) };
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(unwrap(layPattern(made.document, laid, env)), RATE, { assets }));
  renderer.play();
  renderer.process(new Float32Array(frames), new Float32Array(frames), frames);
  return renderer.log.takeAll().flatMap(({ kind, frame }) => (kind === 'on' ? [frame] : []));
}

const settings = fc.record({
  tempoBpm: fc.integer({ min: 70, max: 180 }),
  swingPercent: fc.integer({ min: 50, max: 75 }),
  groovePercent: fc.integer({ min: 0, max: 100 }),
});
const phrase = fc.uniqueArray(fc.integer({ min: 2_000, max: 150_000 }), { minLength: 1, maxLength: 12 });

describe('recording', () => {
  it('gives each press back on its frame, under any swing and groove', () => {
    let count = 0;
    let reached = 0;
    fc.assert(
      fc.property(settings, phrase, ({ tempoBpm, swingPercent, groovePercent }, drawn) => {
        const made = song(tempoBpm, swingPercent, groovePercent);
        const frames = [...drawn].sort((a, b) => a - b);
        const perTick = framesPerTick(tempoBpm, RATE);
        const barFrames = BAR * perTick;
        const heard = heardFrames(made, record(made, frames, AS_PLAYED), Math.ceil(3 * barFrames));
        const timing = partTiming(made.document, made.document.parts[made.partId]!);
        for (const frame of frames) {
          const inRound = (frame % barFrames) / perTick;
          // A groove draws to the nearest step: what lies between where two steps can draw it is never heard.
          const isReached = Math.abs(timedTicks(untimedTicks(inRound, timing, BAR), timing, BAR) - inRound) < 0.01;
          const off = Math.min(...heard.map((one) => Math.abs(one - (frame % barFrames) - barFrames)));
          count++;
          if (!isReached) continue;
          reached++;
          expect(off).toBeLessThanOrEqual(1.01);
        }
        if (groovePercent === 0) expect(reached).toBeGreaterThan(0);
      }),
      { numRuns: 40 },
    );
    expect(reached / count).toBeGreaterThan(0.3);
  });

  it('under swing alone gives every press back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 50, max: 75 }),
        fc.double({ min: 0, max: BAR - 1, noNaN: true }),
        (swing, ticks) => {
          const timing = { ...plainTiming(), swingPercent: swing };
          expect(timedTicks(untimedTicks(ticks, timing, BAR), timing, BAR)).toBeCloseTo(ticks, 6);
        },
      ),
    );
  });

  it('on the grid is exactly on its ticks, and swings with it; or is heard on the straight grid, to the frame', () => {
    fc.assert(
      fc.property(settings, phrase, ({ tempoBpm, swingPercent }, drawn) => {
        const made = song(tempoBpm, swingPercent, 0);
        const frames = [...drawn].sort((a, b) => a - b);
        for (const { strip } of record(made, frames, { ...AS_PLAYED, pull: 1 })) {
          expect(strip.positionTicks % 240).toBe(0);
        }
        const straight = record(made, frames, { ...AS_PLAYED, pull: 1, gridSwings: false });
        const perTick = framesPerTick(tempoBpm, RATE);
        const heard = heardFrames(made, straight, Math.ceil(BAR * perTick));
        for (const frame of heard) {
          const line = Math.round(frame / perTick / 240) * 240 * perTick;
          expect(Math.abs(frame - line)).toBeLessThanOrEqual(1);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('half the way goes half the way; late keys are taken back', () => {
    const made = song(120, 50, 0);
    const perTick = framesPerTick(120, RATE);
    const [half] = record(made, [Math.round(300 * perTick)], { ...AS_PLAYED, pull: 0.5 });
    expect(half!.strip.positionTicks).toBeCloseTo(270, 1);
    const [early] = record(made, [Math.round(500 * perTick)], { ...AS_PLAYED, earlierTicks: 20 });
    expect(early!.strip.positionTicks).toBeCloseTo(480, 1);
  });

  it('what is drawn on over the end of a round is the first of the next, and is not due before that', () => {
    const made = song(120, 50, 0);
    const perTick = framesPerTick(120, RATE);
    const [last] = record(made, [Math.round(3800 * perTick)], { ...AS_PLAYED, pull: 1 });
    expect(last!.strip.positionTicks).toBe(0);
    expect(last!.heardTicks).toBeCloseTo(BAR, 6);
    expect(last!.strip.lengthTicks).toBeGreaterThan(0);
  });
});
