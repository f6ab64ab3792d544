/**
 * What the user does to the selection, whichever hand asks for it: a shortcut, a menu, a drag. The home pattern is
 * never edited: whoever tries gets a copy of it on the table, in the same undo step.
 */
import { defineStore } from 'pinia';
import { snapToGrid } from '#core/patterns/grid.ts';
import { removeSlices } from '#core/project/commands/cut.ts';
import { lockSlices, mergeSlices, setSliceEnds, setSliceSound, trimSlices } from '#core/project/commands/slices.ts';
import { deal, takeHand } from '#core/project/commands/deal.ts';
import {
  moveEvents,
  placeEvent,
  removeEvents,
  resizeEvents,
  setEvents,
  type EventSettings,
} from '#core/project/commands/events.ts';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { HOME } from '#core/project/schema.ts';
import { describeFailure } from '../api/words.ts';
import { library } from '../audio/services.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';
import { useTransport } from './transport.ts';

export const useEditing = defineStore('editing', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const transport = useTransport();

  /** Runs an edit of the pattern in one undo step; on the home pattern a copy is made first and the selection moves there. */
  function editPattern(label: string, edit: (patternId: string, eventIds: readonly string[]) => void): void {
    const { part } = session;
    if (!part) return;
    const isWhole = project.begin(label);
    if (session.patternId === HOME) {
      const places = session.selectedEvents.map((event) => session.events.indexOf(event));
      project.run('', copyPattern, { partId: part.id, patternId: HOME });
      const ids = places.flatMap((place) => session.events[place]?.id ?? []);
      session.eventIds = ids;
      notices.info('The home pattern stays as it is: this is a copy of it.');
    }
    edit(session.patternId, session.eventIds);
    // Within a drag this is one change of many: the drag ends the step.
    if (isWhole) project.commit();
  }

  function setSelectedEvents(label: string, settings: EventSettings): void {
    if (session.eventIds.length === 0) return;
    editPattern(label, (patternId, eventIds) => project.run('', setEvents, { patternId, eventIds, settings }));
  }

  function place(sliceId: string, positionTicks: number, lengthTicks: number): void {
    editPattern('place a slice', (patternId) => {
      const before = new Set(session.events.map((event) => event.id));
      if (!project.run('', placeEvent, { patternId, sliceId, positionTicks, lengthTicks })) return;
      const added = session.events.find((event) => !before.has(event.id));
      if (added) session.selectEvents([added.id]);
    });
  }

  /** Removes selected strips, or else selected slices. */
  function removeSelected(): void {
    if (session.eventIds.length > 0) {
      editPattern('remove strips', (patternId, eventIds) => project.run('', removeEvents, { patternId, eventIds }));
      session.eventIds = [];
    } else if (session.sliceIds.length > 0 && session.part) {
      const first = session.selectedSlices[0]?.index ?? 0;
      project.run('remove slices', removeSlices, { partId: session.part.id, sliceIds: session.sliceIds });
      const next = session.placed[Math.max(0, first - 1)];
      session.selectSlices(next ? [next.slice.id] : []);
    }
  }

  function reverseSelected(): void {
    const { selectedEvents, selectedSlices, part } = session;
    if (selectedEvents.length > 0) {
      setSelectedEvents('reverse strips', { reverse: !selectedEvents.every((event) => event.reverse) });
    } else if (part && selectedSlices.length > 0) {
      const reverse = !selectedSlices.every((at) => at.slice.sound.reverse);
      project.run('reverse slices', setSliceSound, { partId: part.id, sliceIds: session.sliceIds, sound: { reverse } });
    }
  }

  function repeatSelected(): void {
    const most = Math.max(0, ...session.selectedEvents.map((event) => event.repeats));
    if (most > 0) setSelectedEvents('repeat strips', { repeats: most >= 8 ? 1 : most + 1 });
  }

  function holdSelected(): void {
    const { selectedEvents } = session;
    if (selectedEvents.length > 0)
      setSelectedEvents('hold strips', { held: !selectedEvents.every((event) => event.held) });
  }

  function lockSelected(): void {
    const { part, selectedSlices } = session;
    if (!part || selectedSlices.length === 0) return;
    const locked = !selectedSlices.every((at) => at.slice.locked);
    project.run(locked ? 'lock slices' : 'unlock slices', lockSlices, {
      partId: part.id,
      sliceIds: session.sliceIds,
      locked,
    });
  }

  function mergeSelected(): void {
    const { part } = session;
    if (!part) return;
    project.run('join slices', mergeSlices, { partId: part.id, sliceIds: session.sliceIds });
    session.selectSlices(session.sliceIds.filter((id) => session.placed.some((at) => at.slice.id === id)));
  }

  /** Plays the stretch of the selected slices round and round, or stops it. */
  function loopSelected(): void {
    const { part, selectedSlices } = session;
    if (!part || selectedSlices.length === 0) return;
    if (transport.previewId) {
      transport.stopPreview();
      return;
    }
    const startFrame = Math.min(...selectedSlices.map((at) => at.startFrame));
    const endFrame = Math.max(...selectedSlices.map((at) => at.endFrame));
    void transport.playRange(part.sourceId, startFrame, endFrame, true);
  }

  /** Leaves the silence around what sounds in the selected slices out. */
  async function trimSelected(): Promise<void> {
    const { part, selectedSlices } = session;
    if (!part || selectedSlices.length === 0) return;
    try {
      const found = await library.trim(
        part.sourceId,
        selectedSlices.map(({ startFrame, endFrame }) => ({ startFrame, endFrame })),
      );
      const ranges = Object.fromEntries(selectedSlices.map((at, index) => [at.slice.id, found[index]!]));
      project.run('trim silence', trimSlices, { partId: part.id, ranges });
    } catch (error) {
      notices.error(describeFailure('Trimming', error));
    }
  }

  /** Gives the selected slices ends of their own where they end now, or lets them end at the next marker again. */
  function ownEnds(own: boolean): void {
    const { part, selectedSlices } = session;
    if (!part) return;
    const ends = Object.fromEntries(selectedSlices.map((at) => [at.slice.id, own ? at.endFrame : null]));
    project.run(own ? 'own ends' : 'end at the next', setSliceEnds, { partId: part.id, ends });
  }

  /** Moves selected strips by one step of the grid, or by a 1/64 when it is free. */
  function nudgeEvents(direction: 1 | -1): void {
    const first = session.selectedEvents[0];
    if (!first) return;
    const step = session.gridStepTicks ?? 60;
    const target = snapToGrid(first.positionTicks + direction * step, session.gridStepTicks);
    editPattern('move strips', (patternId, eventIds) =>
      project.run('', moveEvents, { patternId, eventIds, byTicks: target - first.positionTicks }),
    );
  }

  function move(byTicks: number): void {
    editPattern('move strips', (patternId, eventIds) => project.run('', moveEvents, { patternId, eventIds, byTicks }));
  }

  function resize(lengthTicks: number): void {
    editPattern('lengthen strips', (patternId, eventIds) =>
      project.run('', resizeEvents, { patternId, eventIds, lengthTicks }),
    );
  }

  /** Deals the pattern on the table; `seed` repeats a certain deal. */
  function dealAgain(seed?: number): void {
    const { part } = session;
    if (!part) return;
    project.run('deal', deal, { partId: part.id, reachPercent: session.reachPercent, seed });
    session.eventIds = [];
  }

  function takeHandAt(place: number): void {
    const handId = session.pattern?.handOrder[place];
    if (!handId) return;
    project.run(`hand ${place + 1}`, takeHand, { patternId: session.patternId, handId });
  }

  function handBefore(): void {
    const { pattern } = session;
    if (!pattern?.handId) return;
    const place = pattern.handOrder.indexOf(pattern.handId);
    if (place > 0) takeHandAt(place - 1);
  }

  function copyCurrentPattern(): void {
    if (session.part)
      project.run('copy pattern', copyPattern, { partId: session.part.id, patternId: session.patternId });
  }

  return {
    editPattern,
    setSelectedEvents,
    place,
    move,
    resize,
    removeSelected,
    reverseSelected,
    repeatSelected,
    holdSelected,
    lockSelected,
    mergeSelected,
    loopSelected,
    trimSelected,
    ownEnds,
    nudgeEvents,
    dealAgain,
    takeHandAt,
    handBefore,
    copyCurrentPattern,
  };
});
