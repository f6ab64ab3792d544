// @vitest-environment happy-dom
import { nextTick } from 'vue';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { isHome } from '#core/document/home-id.ts';
import { leaveStores, openInStores } from '../../../../tests/support/opened-project.ts';
import { set, shortBursts } from '../../../../tests/support/playing.ts';
import { useDealing } from '../pattern/dealing.ts';
import { useEditing } from './editing.ts';
import type { useProject } from './project.ts';
import { useSession } from './session.ts';
import { useTrimming } from '../source/trimming.ts';

// No sound here: what is edited is the document.
vi.mock('../../audio/services.ts', () => {
  const nothing = () => undefined;
  const trim = (_id: string, ranges: { startFrame: number; endFrame: number }[], levelDb: number) =>
    Promise.resolve(
      ranges.map(({ startFrame, endFrame }) => ({ startFrame, endFrame: endFrame - 1_100 - 2 * levelDb })),
    );
  const silenceLevelDb = () => Promise.resolve(-50);
  return {
    library: {
      audio: new Map(),
      peaks: new Map(),
      load: () => Promise.reject(new Error('no sound')),
      trim,
      silenceLevelDb,
    },
    engine: { onStatus: nothing, sendPatch: nothing, send: nothing, positionTicksNow: () => 0, status: {} },
    renderings: { request: nothing, missing: 0 },
  };
});

const loop = set(shortBursts(), {});
let project: ReturnType<typeof useProject>;
let session: ReturnType<typeof useSession>;
let editing: ReturnType<typeof useEditing>;

beforeEach(async () => {
  project = await openInStores(loop.document);
  session = useSession();
  editing = useEditing();
});

afterEach(leaveStores);

const idsOf = (...places: number[]) => places.map((place) => session.placed[place]!.slice.id);

describe('the selection', () => {
  it('begins with the first part, and takes single slices, more of them, and ranges either way', () => {
    expect(session.part?.id).toBe(loop.partId);
    session.selectSlices(idsOf(2));
    session.selectSlices(idsOf(5), true);
    expect(session.selectedSlices.map((at) => at.index)).toEqual([2, 5]);
    session.selectSlices(idsOf(2), true);
    expect(session.selectedSlices.map((at) => at.index)).toEqual([5]);
    session.selectSliceRange(idsOf(3)[0]!);
    expect(session.sliceIds).toEqual(idsOf(5, 4, 3));
  });

  it('of strips brings their slices with it', () => {
    const [first, , third] = session.events;
    session.selectEvents([first!.id, third!.id]);
    expect(session.sliceIds).toEqual([first, third].map((event) => session.sliceByZone.get(event!.zoneId)!.slice.id));
    session.selectSlices(idsOf(1));
    expect(session.eventIds).toEqual([]);
  });
});

describe('editing the home pattern', () => {
  it('edits a copy of it, with the same strips selected, in one undo step', async () => {
    session.selectEvents([session.events[1]!.id, session.events[2]!.id]);
    editing.reverseSelected();
    await nextTick();
    expect(isHome(session.patternId)).toBe(false);
    expect(session.selectedEvents.map((event) => event.values.reverse === true)).toEqual([true, true]);
    expect(session.events.filter((event) => event.values.reverse === true)).toHaveLength(2);
    project.undo();
    await nextTick();
    expect(isHome(session.patternId)).toBe(true);
    expect(project.document!.patterns).toEqual({});
    // Nothing is left to be taken back.
    const { document } = project;
    project.undo();
    expect(project.document).toBe(document);
  });

  it('goes on with the copy: repeats count up and begin anew, strips move by the grid', async () => {
    session.selectEvents([session.events[3]!.id]);
    editing.repeatSelected();
    await nextTick();
    expect(Object.keys(project.document!.patterns)).toHaveLength(1);
    for (let k = 0; k < 6; k++) editing.repeatSelected();
    expect(session.selectedEvents[0]!.values.repeats ?? 1).toBe(8);
    editing.repeatSelected();
    expect(session.selectedEvents[0]!.values.repeats ?? 1).toBe(1);
    expect(Object.keys(project.document!.patterns)).toHaveLength(1);

    const { positionTicks } = session.selectedEvents[0]!;
    editing.nudgeEvents(1);
    expect(session.selectedEvents[0]!.positionTicks).toBe(positionTicks + session.gridStepTicks!);
    session.gridStepTicks = null;
    editing.nudgeEvents(-1);
    expect(session.selectedEvents[0]!.positionTicks).toBe(positionTicks + 240 - 60);
  });

  it('places a slice and selects the new strip', async () => {
    const before = session.events.length;
    editing.place(session.zoneBySlice.get(idsOf(0)[0]!)!.zone.id, 700, 100);
    await nextTick();
    expect(session.events).toHaveLength(before + 1);
    expect(session.selectedEvents).toMatchObject([
      { positionTicks: 700, lengthTicks: 100, zoneId: session.zoneBySlice.get(idsOf(0)[0]!)!.zone.id },
    ]);
    editing.removeSelected();
    expect(session.events).toHaveLength(before);
  });
});

describe('editing slices', () => {
  it('locks all unless all are locked, and takes it back', () => {
    session.selectSlices(idsOf(0, 1));
    editing.lockSelected();
    expect(session.selectedSlices.every((at) => at.slice.locked)).toBe(true);
    session.selectSlices(idsOf(0, 1, 2));
    editing.lockSelected();
    expect(session.selectedSlices.every((at) => at.slice.locked)).toBe(true);
    editing.lockSelected();
    expect(session.selectedSlices.some((at) => at.slice.locked)).toBe(false);
  });

  it('joins neighbours, and selects the one before when some are removed', () => {
    session.selectSlices(idsOf(2, 3));
    editing.mergeSelected();
    expect(session.placed).toHaveLength(7);
    expect(session.selectedSlices.map((at) => at.index)).toEqual([2]);
    editing.removeSelected();
    expect(session.placed).toHaveLength(6);
    expect(session.selectedSlices.map((at) => at.index)).toEqual([1]);
  });

  it('trims silence below a level in one step for all, and gives ends of their own', async () => {
    const trimming = useTrimming();
    session.selectSlices(idsOf(0, 4));
    await trimming.begin();
    expect(trimming.levelDb).toBe(-50);
    await trimming.setLevel(-60);
    // Shown, and nothing changed yet.
    const [first] = idsOf(0);
    expect(trimming.leftOut).toContainEqual({ startFrame: 10_045, endFrame: 11_025 });
    expect(session.selectedSlices.map((at) => at.endFrame)).toEqual([11_025, 5 * 11_025]);
    await trimming.setLevel(-50);
    trimming.apply();
    expect(trimming.levelDb).toBeNull();
    expect(session.selectedSlices[0]!.slice.id).toBe(first);
    expect(session.selectedSlices.map((at) => at.endFrame)).toEqual([10_025, 4 * 11_025 + 10_025]);
    project.undo();
    expect(session.selectedSlices.map((at) => at.endFrame)).toEqual([11_025, 5 * 11_025]);
    await trimming.begin();
    session.selectSlices(idsOf(0));
    await nextTick();
    // Something else is chosen: nothing is about to be trimmed.
    expect([trimming.levelDb, trimming.leftOut]).toEqual([null, []]);
    session.selectSlices(idsOf(0, 4));
    editing.ownEnds(true);
    expect(session.selectedSlices.map((at) => at.slice.endFrame)).toEqual([11_025, 5 * 11_025]);
    editing.ownEnds(false);
    expect(session.selectedSlices.map((at) => at.slice.endFrame)).toEqual([null, null]);
  });
});

describe('dealing', () => {
  it('the same seed deals the same, and the hand before comes back', async () => {
    useDealing().again(41);
    await nextTick();
    const order = session.events.map((event) => event.zoneId);
    useDealing().again(42);
    expect(session.events.map((event) => event.zoneId)).not.toEqual(order);
    useDealing().before();
    expect(session.events.map((event) => event.zoneId)).toEqual(order);
    // The pattern as it was is the first hand.
    expect(session.pattern!.handOrder).toHaveLength(3);
  });
});
