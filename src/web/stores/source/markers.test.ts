// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { moveMarker, removeSlices } from '#core/project/commands/cut.ts';
import { leaveStores, openInStores } from '../../../../tests/support/opened-project.ts';
import { set, shortBursts } from '../../../../tests/support/playing.ts';
import { tempoOf } from '../../../../tests/support/edits.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useMarkers } from './markers.ts';

/** What the worker finds near a dropped marker, when it is let. */
const snapping = vi.hoisted(() => ({ answer: (_frame: number): void => undefined }));
vi.mock('../../audio/services.ts', () => {
  const nothing = () => undefined;
  return {
    library: {
      audio: new Map(),
      peaks: new Map(),
      load: () => Promise.reject(new Error('no sound')),
      snap: () => new Promise<number>((resolve) => (snapping.answer = resolve)),
    },
    engine: { onStatus: nothing, sendPatch: nothing, send: nothing, positionTicksNow: () => 0, status: {} },
    renderings: { request: nothing, missing: 0 },
    notes: {},
  };
});

const loop = set(shortBursts(), {});
let project: ReturnType<typeof useProject>;
let session: ReturnType<typeof useSession>;

beforeEach(async () => {
  project = await openInStores(loop.document);
  session = useSession();
});
afterEach(leaveStores);

const starts = () => session.placed.map((at) => at.startFrame);

/** The third marker, dragged by so many frames and let go; it waits to be snapped. */
function drag(byFrames: number): { sliceId: string; from: number; dropped: Promise<void> } {
  const { slice, startFrame } = session.placed[2]!;
  const args = { cutId: session.cut!.id, sliceId: slice.id };
  const gesture = project.begin('move slice 3')!;
  project.run('', moveMarker, { ...args, startFrame: startFrame + byFrames });
  return { sliceId: slice.id, from: startFrame, dropped: useMarkers().snapDropped(gesture, args.cutId, args.sliceId) };
}

describe('a marker that is let go', () => {
  it('snaps within the step of its drag', async () => {
    const { from, dropped } = drag(300);
    expect(starts()[2]).toBe(from + 300);
    expect(project.isHeld()).toBe(false);
    snapping.answer(from + 280);
    await dropped;
    expect(starts()[2]).toBe(from + 280);
    expect(project.history.past.map(({ label }) => label)).toEqual(['move slice 3']);
    project.undo();
    expect(starts()[2]).toBe(from);
  });

  it('is deleted in a step of its own, however soon', async () => {
    const { sliceId, from, dropped } = drag(300);
    project.run('remove slices', removeSlices, { cutId: session.cut!.id, sliceIds: [sliceId] });
    snapping.answer(from + 280);
    await dropped;
    expect(project.history.past.map(({ label }) => label)).toEqual(['move slice 3', 'remove slices']);
    project.undo();
    expect(starts()[2]).toBe(from + 300);
    project.undo();
    expect(starts()[2]).toBe(from);
  });

  it('stays where it was put when the drag was taken back, or something else is held, meanwhile', async () => {
    const first = drag(300);
    project.undo();
    snapping.answer(first.from + 280);
    await first.dropped;
    expect(starts()[2]).toBe(first.from);
    expect(project.history.past).toEqual([]);

    const second = drag(400);
    const held = project.begin('tempo')!;
    const owners = [{ kind: 'song' as const }];
    project.run('', setValue, { owners, param: 'tempoBpm', change: { to: 99 } });
    snapping.answer(second.from + 280);
    await second.dropped;
    held.commit();
    expect(starts()[2]).toBe(second.from + 400);
    project.undo();
    expect(starts()[2]).toBe(second.from + 400);
    expect(tempoOf(project.document!)).not.toBe(99);
  });
});
