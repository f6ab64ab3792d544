/** Lanes over sections of the running order: where they are over all rounds, what they reach, and where they end. */
import { describe, expect, it } from 'vitest';
import { brokenRule } from '#core/document/validate.ts';
import type { LanePoint, ProjectDocument, RouteTarget } from '#core/document/schema.ts';
import { lanePoint, laneValue } from '#core/lanes/points.ts';
import { orderLayout } from '#core/order/layout.ts';
import { addLane, drawLane, setLaneLength } from '#core/project/commands/lanes.ts';
import { putOnMacro } from '#core/project/commands/macros.ts';
import { duplicatePart } from '#core/project/commands/copy-part.ts';
import { addSection, copySection, removeSection, setSectionValue } from '#core/project/commands/sections.ts';
import { mainChannel } from '#core/queries/channels.ts';
import { laneLengthTicks, lanesOver } from '#core/queries/lanes.ts';
import { macrosOf } from '#core/queries/macros.ts';
import { movableInOrder } from '#core/queries/order-targets.ts';
import { countingEnv, loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { planOf, set } from '../../../tests/support/playing.ts';
import { greatestStep } from '../../../tests/support/keys.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { bounce } from './bounce.ts';
import { CONTROL_FRAMES } from './control/control-step.ts';

const RATE = 44_100;
const BAR = 88_200;
const BAR_TICKS = 3840;
const counting = countingEnv();
const env = { ...counting, newId: () => `made-${counting.newId()}` };

/** A tone of a bar that goes round without a seam: a section of two rounds, then one of one. */
function twoSections(): LoopProject {
  const tone = { sampleRate: RATE, channels: [sine(1000, 2).map((x) => x * 0.25)] };
  const made = set(loopProject(tone, [0], 1), { oneAtATime: true }, 120);
  let { document } = made;
  document = unwrap(addSection(document, { withPlaying: true }, env));
  document = unwrap(
    setSectionValue(document, { sectionId: document.sectionOrder[0]!, param: 'repeats', change: { to: 2 } }, env),
  );
  document = unwrap(addSection(document, { withPlaying: true }, env));
  return { ...made, document };
}

const channelOf = (document: ProjectDocument): RouteTarget => ({
  kind: 'channel',
  id: Object.values(document.parts)[0]!.channelId,
});

function withLane(
  made: LoopProject,
  points: readonly LanePoint[],
  target = channelOf(made.document),
  paramId = 'gainDb',
): LoopProject & { laneId: string } {
  const overId = made.document.sectionOrder[0]!;
  const added = unwrap(addLane(made.document, { overId, target, paramId }, env));
  const laneId = lanesOver(added, overId).at(-1)!.id;
  const document = unwrap(drawLane(added, { laneId, points }, env));
  expect(brokenRule(document)).toBeNull();
  return { ...made, document, laneId };
}

async function played(made: LoopProject, fromTicks = 0, blockFrames = 441): Promise<Float32Array> {
  const { lengthTicks } = orderLayout(made.document);
  const options = { fromTicks, lengthTicks: lengthTicks - fromTicks, followsOrder: true, blockFrames };
  return (await bounce(planOf(made), options)).channels[0]!;
}

/** The loudness of one against the other at a top of the wave near the end of a control step, in dB; null away from one. */
function gainDbAt(moved: Float32Array, plain: Float32Array, step: number): number | null {
  const at = (step + 1) * CONTROL_FRAMES - 1;
  return Math.abs(plain[at]!) > 0.1 ? 20 * Math.log10(moved[at]! / plain[at]!) : null;
}

const RISING = [lanePoint(0, 0.25), lanePoint(2 * BAR_TICKS, 1)];

describe('a lane over a section', () => {
  it('goes on over all rounds of it, and is over with it', async () => {
    const plain = await played(twoSections());
    const made = withLane(twoSections(), RISING);
    expect(laneLengthTicks(made.document, made.laneId)).toBe(2 * BAR_TICKS);
    const moved = await played(made);
    let looked = 0;
    for (let step = 100; step < (2 * BAR) / CONTROL_FRAMES - 2; step++) {
      const gainDb = gainDbAt(moved, plain, step);
      if (gainDb === null) continue;
      looked++;
      const ticks = ((step * CONTROL_FRAMES) / RATE) * 1920;
      expect(gainDb).toBeCloseTo(24 * (laneValue(RISING, ticks) - 1), 1);
    }
    expect(looked).toBeGreaterThan(1000);
    // Where it was left is where the part stands by itself.
    const later = 2 * BAR + 4000;
    expect(firstDifference(moved.subarray(later, later + 80_000), plain.subarray(later, later + 80_000))).toBe(-1);
  });

  it('is in its place when the song begins in the middle, and leaves its section without a step', async () => {
    const made = withLane(twoSections(), [lanePoint(0, 0.25), lanePoint(2 * BAR_TICKS - 1, 0.25)]);
    const whole = await played(made);
    const tone = greatestStep(await played(twoSections()));
    const there = await played(made, 2 * BAR_TICKS - 960);
    const from = 2 * BAR - BAR / 4;
    for (let at = 300; at < BAR / 4 - 400; at++) expect(there[at]).toBeCloseTo(whole[from + at]!, 5);
    expect(greatestStep(whole.subarray(2 * BAR - 100, 2 * BAR + 4000))).toBeLessThan(1.15 * tone);
  });

  it.each([1, 127, 128, 4096])('sounds the same in blocks of %d', async (block) => {
    const made = withLane(twoSections(), RISING);
    const from = block === 1 ? 2 * BAR_TICKS - 480 : 0;
    expect(firstDifference(await played(made, from, block), await played(made, from))).toBe(-1);
  });

  it('goes round by itself where it has a length of its own', async () => {
    const made = withLane(twoSections(), [lanePoint(0, 1, { stays: true }), lanePoint(480, 0, { stays: true })]);
    const document = unwrap(setLaneLength(made.document, { laneId: made.laneId, lengthTicks: 960 }, env));
    const [moved, plain] = [await played({ ...made, document }), await played(twoSections())];
    const level = (ticks: number) => {
      const step = Math.round(((ticks / 1920) * RATE) / CONTROL_FRAMES);
      for (let near = step; ; near++) {
        const gainDb = gainDbAt(moved, plain, near);
        if (gainDb !== null) return gainDb;
      }
    };
    for (const beat of [0, 1, 3, 5, 7]) {
      expect(level(960 * beat + 240)).toBeCloseTo(0, 1);
      expect(level(960 * beat + 720)).toBeCloseTo(-24, 1);
    }
  });

  it('moves the mix, dials, and the sounds of any part', async () => {
    const base = twoSections();
    const [from] = [await played(base)];
    const main = { kind: 'channel', id: mainChannel(base.document).id } as const;
    const ofMain = await played(withLane(base, [lanePoint(0, 0)], main));
    expect(gainDbAt(ofMain, from, 1000) ?? gainDbAt(ofMain, from, 1001) ?? gainDbAt(ofMain, from, 1002)).toBeCloseTo(
      -24,
      1,
    );

    const dialled = unwrap(
      putOnMacro(base.document, { place: 0, target: channelOf(base.document), paramId: 'gainDb' }, env),
    );
    const [dial] = macrosOf(dialled);
    const dialId = dial!.id;
    const ofDial = withLane({ ...base, document: dialled }, RISING, { kind: 'modulator', id: dialId }, 'position');
    expect(firstDifference(await played(ofDial), from)).toBeGreaterThan(-1);

    const copied = unwrap(duplicatePart(base.document, { partId: base.partId }, env));
    const other = copied.partOrder.find((id) => id !== base.partId)!;
    const sounds = { kind: 'sounds', id: other } as const;
    // Only the first part is placed: what moves the other's sounds is not heard.
    const ofOther = withLane({ ...base, document: copied }, RISING, sounds, 'tuneCents');
    expect(firstDifference(await played(ofOther), await played({ ...base, document: copied }))).toBe(-1);
    const ofOwn = withLane(base, [lanePoint(0, 1)], { kind: 'sounds', id: base.partId }, 'tuneCents');
    expect(firstDifference((await played(ofOwn)).subarray(0, BAR), from.subarray(0, BAR))).toBeGreaterThan(-1);
  });

  it('may have all that is to be moved, each once and by its name', () => {
    const { document } = twoSections();
    const all = movableInOrder(document);
    const names = all.map(({ target, paramId }) => `${target.kind} ${target.id} ${paramId}`);
    expect(new Set(names).size).toBe(names.length);
    expect(new Set(all.map(({ words }) => words)).size).toBe(all.length);
    expect(names).toContain(`channel ${mainChannel(document).id} gainDb`);
    expect(names).toContain(`sounds ${document.partOrder[0]} tuneCents`);
    for (const { target, paramId } of all) {
      expect(addLane(document, { overId: document.sectionOrder[1]!, target, paramId }, env).ok).toBe(true);
    }
  });

  it('is copied with its section and goes with it; sounds of its own it has none', () => {
    const made = withLane(twoSections(), RISING);
    const sectionId = made.document.sectionOrder[0]!;
    const copied = unwrap(copySection(made.document, { sectionId }, env));
    const [copy] = lanesOver(copied, copied.sectionOrder[1]!);
    expect(copy).toMatchObject({ kind: 'lane', points: lanesOver(copied, sectionId)[0]!.points });
    expect(copy!.id).not.toBe(made.laneId);
    expect(brokenRule(copied)).toBeNull();
    const gone = unwrap(removeSection(copied, { sectionId }, env));
    expect(Object.values(gone.modulators).map(({ id }) => id)).toEqual([copy!.id]);
    expect(Object.values(gone.routes)).toHaveLength(1);
    const own = { target: { kind: 'zone', id: null } as const, paramId: 'tuneCents' };
    expect(addLane(made.document, { overId: sectionId, ...own }, env)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('a section has no sounds of its own') as string,
    });
    expect(addLane(made.document, { overId: 'none', ...own }, env)).toMatchObject({ ok: false });
  });
});
