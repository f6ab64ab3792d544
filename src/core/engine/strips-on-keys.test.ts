/**
 * A strip means what was played: what keys play live, what recording and keeping make of it, and the bounce of that are
 * the same, sample for sample.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layPattern } from '#core/project/commands/patterns.ts';
import type { PatternEvent, ProjectDocument, Zone } from '#core/document/schema.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { framesPerTick } from '#core/units/time.ts';
import { loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { firstDifference, noise } from '../../../tests/support/signals.ts';
import { peakOf, rmsOf } from '../../../tests/support/keys.ts';
import { playedPhrase } from '../patterns/played.ts';
import { pressesOf } from '../patterns/presses.ts';
import { recordedStrip } from '../patterns/recorded.ts';
import { bounce } from './bounce.ts';
import { compilePlan } from './plan/compile.ts';
import { Renderer } from './renderer.ts';
import { plainTiming } from '../strips/timing.ts';

const RATE = 44100;
const BAR_FRAMES = 88_200;
const BAR_TICKS = 3840;
const TIMING = { ticksPerFrame: 1 / framesPerTick(120, RATE), ticksPerSongTick: 1, sampleRate: RATE };
const STEADY = plainTiming();
const PLAIN = { pull: 0, gridTicks: null, gridSwings: false, earlierTicks: 0 };

interface Press {
  frame: number;
  heldFrames: number;
  pad: number;
  velocity: number;
}

/** Two sounds a pad, by strength or in turns, on keys 48 to 51. */
function pads(values: Zone['values'][], part: Record<string, unknown>, byTurn = false): LoopProject {
  const starts = Array.from({ length: 8 }, (_, step) => step * 11_025);
  const made = loopProject({ sampleRate: RATE, channels: [noise(BAR_FRAMES, 4).map((x) => x * 0.3)] }, starts);
  const own = made.document.parts[made.partId]!;
  const zones = Object.fromEntries(
    own.zoneOrder.map((id, place) => {
      const key = 48 + Math.floor(place / 2);
      const isHard = place % 2 === 1;
      const velocities = byTurn
        ? { low: 1, high: 127, fade: 0 }
        : isHard
          ? { low: 64, high: 127, fade: 20 }
          : { low: 1, high: 63, fade: 20 };
      const zone: Zone = {
        ...made.document.zones[id]!,
        laid: 'hand',
        keys: { low: key, high: key, root: key },
        velocities,
        values: { ...values[place % values.length], ...(byTurn ? { turn: 'turn' as const } : {}) },
      };
      return [id, zone];
    }),
  );
  const document: ProjectDocument = {
    ...made.document,
    zones,
    parts: { ...made.document.parts, [made.partId]: { ...own, values: { ...own.values, ...part } } },
  };
  return { ...made, document };
}

/** Plays presses live on the song's first bar, while its pattern rests. */
function live(made: LoopProject, presses: readonly Press[], frames: number) {
  const document = withPattern(made, []);
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(document, RATE, { assets: made.assets }));
  renderer.play();
  presses.forEach(({ frame, heldFrames, pad, velocity }, noteId) => {
    const press = { noteId, partId: made.partId, key: 48 + pad };
    renderer.addNote({ ...press, kind: 'on', velocity, frame });
    renderer.addNote({ ...press, kind: 'off', velocity: 0, frame: frame + heldFrames });
  });
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += 441) {
    const count = Math.min(441, frames - at);
    renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
  }
  return { left, log: renderer.log.takeAll() };
}

function withPattern(made: LoopProject, strips: Omit<PatternEvent, 'id'>[]): ProjectDocument {
  const args = { partId: made.partId, name: 'played', lengthTicks: 2 * BAR_TICKS, strips };
  return unwrap(layPattern(made.document, args, { ...made.env }));
}

const soundOf = (made: LoopProject) => (zoneId: string) => {
  const placed = zonesOfPart(made.document, made.document.parts[made.partId]!).find(({ zone }) => zone.id === zoneId)!;
  const { keys } = placed.zone;
  const there = Object.values(made.document.zones).filter((zone) => zone.keys?.root === keys?.root);
  const isWhole = there.every(({ values }) => (values.answer ?? 'one-shot') === 'one-shot');
  const frames = placed.at.endFrame - placed.at.startFrame;
  return { wholeTicks: isWhole ? frames / framesPerTick(120, RATE) : null, tuneCents: 0 };
};

async function heardOf(made: LoopProject, strips: Omit<PatternEvent, 'id'>[], frames: number, blockFrames = 1024) {
  const plan = compilePlan(withPattern(made, strips), RATE, { assets: made.assets });
  const { channels } = await bounce(plan, { lengthTicks: 2 * BAR_TICKS, blockFrames });
  return channels[0]!.subarray(0, frames);
}

/** The strips that recording makes of a log. */
function recorded(made: LoopProject, log: ReturnType<typeof live>['log']): Omit<PatternEvent, 'id'>[] {
  const { presses } = pressesOf(log, made.partId, TIMING);
  return presses.map(
    (press) =>
      recordedStrip(
        press,
        { lengthTicks: 2 * BAR_TICKS, offsetTicks: 0, timing: STEADY },
        PLAIN,
        soundOf(made)(press.zoneId),
      ).strip,
  );
}

const press = fc.record({
  frame: fc.integer({ min: 10, max: BAR_FRAMES - 20_000 }),
  heldFrames: fc.integer({ min: 900, max: 15_000 }),
  pad: fc.integer({ min: 0, max: 3 }),
  velocity: fc.integer({ min: 1, max: 127 }).map((step) => step / 127),
});
const phrases = fc
  .uniqueArray(press, { minLength: 1, maxLength: 10, selector: ({ frame }) => frame })
  .map((list) => list.sort((a, b) => a.frame - b.frame));
const zoneValues = fc.record({
  answer: fc.constantFrom('one-shot' as const, 'gate' as const),
  gainDb: fc.constantFrom(0, -6, 3),
  pan: fc.constantFrom(0, -0.5),
  attackMs: fc.constantFrom(0, 30),
  releaseMs: fc.constantFrom(5, 200),
  decayMs: fc.constantFrom(0, 100),
  sustain: fc.constantFrom(1, 0.4),
  chokeGroup: fc.constantFrom(0, 1),
  filter: fc.constantFrom('off' as const, 'low' as const),
  cutoffHz: fc.constantFrom(20_000, 900),
  tuneCents: fc.constantFrom(0, 300),
});
const partValues = fc.record({
  oneAtATime: fc.boolean(),
  voices: fc.constantFrom(0, 2),
  stopFadeMs: fc.constantFrom(3, 20),
});

describe('what is played on pads with two layers each', () => {
  it('is the same live, recorded, kept and bounced, sample for sample, whatever the sounds are set to', async () => {
    await fc.assert(
      fc.asyncProperty(
        phrases,
        fc.array(zoneValues, { minLength: 1, maxLength: 4 }),
        partValues,
        fc.boolean(),
        async (presses, values, part, byTurn) => {
          // One at a time a key that is let go gives way to the one before: how long each was held is kept of held sounds alone.
          const alike = part.oneAtATime ? values.map((one) => ({ ...one, answer: values[0]!.answer })) : values;
          const made = pads(alike, part, byTurn);
          const { left, log } = live(made, presses, BAR_FRAMES);
          expect(peakOf(left)).toBeGreaterThan(0);
          const strips = recorded(made, log);
          expect(strips).toHaveLength(presses.length);
          expect(firstDifference(await heardOf(made, strips, BAR_FRAMES), left)).toBe(-1);
          const kept = playedPhrase(pressesOf(log, made.partId, TIMING).presses, 2 * BAR_TICKS, 0, soundOf(made))!;
          expect(firstDifference(await heardOf(made, kept.strips, BAR_FRAMES, 127), left)).toBe(-1);
        },
      ),
      { numRuns: 25 },
    );
  }, 120_000);

  it('is as loud as its strength asks of both layers: a soft press is not the hard sound', async () => {
    const made = pads([{}], { oneAtATime: false });
    const strips = (velocity: number): Omit<PatternEvent, 'id'>[] => [
      {
        zoneId: made.document.parts[made.partId]!.zoneOrder[0]!,
        positionTicks: 0,
        lengthTicks: 480,
        values: { velocity, onKey: true },
      },
    ];
    const soft = await heardOf(made, strips(20 / 127), 11_025);
    const hard = await heardOf(made, strips(1), 11_025);
    // Other samples, not the same ones at another level.
    const ratio = rmsOf(hard, 0, 5_000) / rmsOf(soft, 0, 5_000);
    const scaled = soft.map((x) => x * ratio);
    expect(
      rmsOf(
        scaled.map((x, i) => x - hard[i]!),
        0,
        5_000,
      ),
    ).toBeGreaterThan(rmsOf(hard, 0, 5_000));
  });

  it('held to the end of its strip is let go there, also when the tempo has changed meanwhile', () => {
    const made = pads([{ answer: 'gate', releaseMs: 1 }], { oneAtATime: false });
    const zoneId = made.document.parts[made.partId]!.zoneOrder[0]!;
    const strip = { zoneId, positionTicks: 0, lengthTicks: 400, values: { velocity: 0.2, onKey: true } };
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(withPattern(made, [strip]), RATE, { assets: made.assets }));
    renderer.play();
    const left = new Float32Array(30_000);
    renderer.process(left.subarray(0, 2_000), new Float32Array(2_000), 2_000);
    renderer.setValues([{ kind: 'song', id: '', slot: 0, value: 240 }]);
    renderer.process(left.subarray(2_000), new Float32Array(28_000), 28_000);
    const perTick = framesPerTick(120, RATE);
    const endFrame = Math.round(2_000 + (400 - 2_000 / perTick) * (perTick / 2));
    const last = left.findLastIndex((x) => x !== 0);
    expect(last).toBeGreaterThan(endFrame - 5);
    expect(last).toBeLessThan(endFrame + 60);
  });

  it('is silent once the song is stopped, with nothing left pressed', () => {
    const made = pads([{ answer: 'gate', loopMode: 'forwards' }], { oneAtATime: false });
    const zoneId = made.document.parts[made.partId]!.zoneOrder[0]!;
    const strip = { zoneId, positionTicks: 0, lengthTicks: 3000, values: { onKey: true } };
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(withPattern(made, [strip]), RATE, { assets: made.assets }));
    renderer.play();
    const block = new Float32Array(4_000);
    renderer.process(block, new Float32Array(4_000), 4_000);
    expect(peakOf(block, 3_000)).toBeGreaterThan(0);
    renderer.stop();
    renderer.process(block, new Float32Array(4_000), 4_000);
    renderer.process(block, new Float32Array(4_000), 4_000);
    expect(peakOf(block)).toBe(0);
  });
});
