/**
 * What the user does to the selection, whichever hand asks for it: a shortcut, a menu, a drag. The home pattern is
 * never edited: whoever tries gets a copy of it on the table, in the same undo step.
 */
import { defineStore } from 'pinia';
import { snapToGrid } from '#core/patterns/grid.ts';
import { removeSlices } from '#core/project/commands/cut.ts';
import { lockSlices, mergeSlices, setSliceEnds } from '#core/project/commands/slices.ts';
import {
  exchangeEventZones,
  moveEvents,
  placeEvent,
  removeEvents,
  resizeEvents,
} from '#core/project/commands/events.ts';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { setValue, type Owner, type SetValueArgs } from '#core/project/commands/values.ts';
import { isHome } from '#core/document/home-id.ts';
import type { PatternEvent } from '#core/document/schema.ts';
import { eventValues, zoneValues } from '#core/queries/values.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';
import { usePreview } from '../sound/preview.ts';

/** What moving strips to other rows does to them. */
export interface RowShift {
  byCents: number;
  /** The zone that is played in the place of another one. */
  zoneIds: ReadonlyMap<string, string>;
}
export const NO_SHIFT: RowShift = { byCents: 0, zoneIds: new Map() };

export const useEditing = defineStore('editing', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const preview = usePreview();

  /** Runs an edit of the pattern in one undo step; on a home pattern a copy is made first and the selection moves there. */
  function editPattern(label: string, edit: (patternId: string, eventIds: readonly string[]) => void): void {
    const { part } = session;
    if (!part) return;
    project.step(label, () => {
      if (isHome(session.patternId)) {
        const places = session.selectedEvents.map((event) => session.events.indexOf(event));
        if (!project.run('', copyPattern, { partId: part.id, patternId: session.patternId })) return;
        session.eventIds = places.flatMap((place) => session.events[place]?.id ?? []);
        notices.info('The home pattern stays as it is: this is a copy of it.');
      }
      edit(session.patternId, session.eventIds);
    });
  }

  /** The selected strips as owners of settings. */
  function eventOwners(patternId: string, eventIds: readonly string[]): Owner[] {
    return eventIds.map((id) => ({ kind: 'event', patternId, id }));
  }

  function setSelectedEvents(label: string, param: string, change: SetValueArgs['change']): void {
    if (session.eventIds.length === 0) return;
    editPattern(label, (patternId, eventIds) =>
      project.run('', setValue, { owners: eventOwners(patternId, eventIds), param, change }),
    );
  }

  /** The chosen zones as owners of settings. */
  function selectedZones(): Owner[] {
    return session.selectedZones.map(({ zone }) => ({ kind: 'zone', id: zone.id }));
  }

  function place(
    zoneId: string,
    positionTicks: number,
    lengthTicks: number,
    values: PatternEvent['values'] = {},
  ): void {
    editPattern('place a slice', (patternId) => {
      const placed = project.run('', placeEvent, { patternId, zoneId, positionTicks, lengthTicks, values });
      if (placed) session.selectEvents(placed.made);
    });
  }

  /** Removes selected strips, or else selected slices. */
  function removeSelected(): void {
    if (session.eventIds.length > 0) {
      editPattern('remove strips', (patternId, eventIds) => project.run('', removeEvents, { patternId, eventIds }));
      session.eventIds = [];
    } else if (session.sliceIds.length > 0 && session.cut) {
      const first = session.selectedSlices[0]?.index ?? 0;
      project.run('remove slices', removeSlices, { cutId: session.cut.id, sliceIds: session.sliceIds });
      const next = session.placed[Math.max(0, first - 1)];
      session.selectSlices(next ? [next.slice.id] : []);
    }
  }

  function reverseSelected(): void {
    const { selectedEvents, selectedSlices } = session;
    if (selectedEvents.length > 0) {
      setSelectedEvents('reverse strips', 'reverse', {
        to: !selectedEvents.every((event) => eventValues(event).reverse),
      });
    } else if (selectedSlices.length > 0) {
      const zones = selectedSlices.flatMap(({ slice }) => session.zoneBySlice.get(slice.id)?.zone ?? []);
      const to = !zones.every((zone) => zoneValues(zone).reverse);
      project.run('reverse slices', setValue, { owners: selectedZones(), param: 'reverse', change: { to } });
    }
  }

  function repeatSelected(): void {
    const most = Math.max(0, ...session.selectedEvents.map((event) => eventValues(event).repeats));
    if (most > 0) setSelectedEvents('repeat strips', 'repeats', { to: most >= 8 ? 1 : most + 1 });
  }

  function holdSelected(): void {
    const { selectedEvents } = session;
    if (selectedEvents.length > 0) {
      setSelectedEvents('hold strips', 'hold', { to: !selectedEvents.every((event) => eventValues(event).hold) });
    }
  }

  function lockSelected(): void {
    const { cut, selectedSlices } = session;
    if (!cut || selectedSlices.length === 0) return;
    const locked = !selectedSlices.every((at) => at.slice.locked);
    project.run(locked ? 'lock slices' : 'unlock slices', lockSlices, {
      cutId: cut.id,
      sliceIds: session.sliceIds,
      locked,
    });
  }

  function mergeSelected(): void {
    const { cut } = session;
    if (!cut) return;
    project.run('join slices', mergeSlices, { cutId: cut.id, sliceIds: session.sliceIds });
    session.selectSlices(session.sliceIds.filter((id) => session.placed.some((at) => at.slice.id === id)));
  }

  /** Plays the stretch of the selected slices round and round, or stops it. */
  function loopSelected(): void {
    const { cut, selectedSlices } = session;
    if (!cut || selectedSlices.length === 0) return;
    if (preview.previewId) {
      preview.stopPreview();
      return;
    }
    const startFrame = Math.min(...selectedSlices.map((at) => at.startFrame));
    const endFrame = Math.max(...selectedSlices.map((at) => at.endFrame));
    void preview.playRange(cut.sourceId, startFrame, endFrame, true);
  }

  /** Gives the selected slices ends of their own where they end now, or lets them end at the next marker again. */
  function ownEnds(own: boolean): void {
    const { cut, selectedSlices } = session;
    if (!cut) return;
    const ends = Object.fromEntries(selectedSlices.map((at) => [at.slice.id, own ? at.endFrame : null]));
    project.run(own ? 'own ends' : 'end at the next', setSliceEnds, { cutId: cut.id, ends });
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

  /** Moves strips in time, and to other rows: sounds or notes. */
  function move(byTicks: number, { byCents, zoneIds }: RowShift = NO_SHIFT): void {
    if (byTicks === 0 && byCents === 0 && zoneIds.size === 0) return;
    editPattern(byCents === 0 ? 'move strips' : 'move notes', (patternId, eventIds) => {
      if (byTicks !== 0) project.run('', moveEvents, { patternId, eventIds, byTicks });
      if (zoneIds.size > 0) project.run('', exchangeEventZones, { patternId, eventIds, zoneIds });
      const owners = eventOwners(patternId, eventIds);
      if (byCents !== 0) project.run('', setValue, { owners, param: 'tuneCents', change: { by: byCents } });
    });
  }

  function resize(lengthTicks: number): void {
    editPattern('lengthen strips', (patternId, eventIds) =>
      project.run('', resizeEvents, { patternId, eventIds, lengthTicks }),
    );
  }

  function copyCurrentPattern(): void {
    if (session.part)
      project.run('copy pattern', copyPattern, { partId: session.part.id, patternId: session.patternId });
  }

  return {
    editPattern,
    setSelectedEvents,
    selectedZones,
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
    ownEnds,
    nudgeEvents,
    copyCurrentPattern,
  };
});
