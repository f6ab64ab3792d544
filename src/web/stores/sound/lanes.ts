/** The lanes over the pattern that the chosen part plays, and how any lane is drawn in. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { LaneShape } from '#core/lanes/changes.ts';
import { backwards, raised, scaled, shaped, shifted, turnedOver } from '#core/lanes/changes.ts';
import { lanePoint, thinned } from '#core/lanes/points.ts';
import type { LanePoint } from '#core/document/schema.ts';
import { addLane, copyLane, drawLane, setLaneLength } from '#core/project/commands/lanes.ts';
import type { Setting } from '#core/project/commands/macros.ts';
import { removeModulator } from '#core/project/commands/modulators.ts';
import { laneLengthTicks, lanesOver, settingOfLane, type Lane } from '#core/queries/lanes.ts';
import { movableOfPart, movedBy, type Movable } from '#core/queries/targets.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** How a pointer draws in a lane. */
export type Pencil = 'lines' | 'steps' | 'free';

/** What of a lane goes when it is thinned out, in shares of its range. */
const THIN = 0.02;

export const useLanes = defineStore('lanes', () => {
  const project = useProject();
  const session = useSession();
  const pencil = useStorage<Pencil>('yappa.pencil', 'lines');
  const chosenId = ref<string | null>(null);

  const patternId = computed(() => session.part?.activePatternId ?? '');
  const lanes = computed(() => (project.document ? lanesOver(project.document, patternId.value) : []));
  /** What may have a lane and has none yet. */
  const free = computed<Movable[]>(() => {
    const { document } = project;
    return document && session.part ? withoutTaken(lanes.value, movableOfPart(document, session.part, 'lane')) : [];
  });
  function withoutTaken(laid: readonly Lane[], movable: readonly Movable[]): Movable[] {
    const ways = laid.map((lane) => settingOfLane(project.document!, lane));
    const taken = new Set(ways.map((route) => (route ? nameOf(route) : '')));
    return movable.filter((one) => !taken.has(nameOf(one)));
  }

  const lengthOf = (lane: Lane) => laneLengthTicks(project.document!, lane.id);
  const movedOf = (lane: Lane) => {
    const route = settingOfLane(project.document!, lane);
    const moved = route ? movedBy(project.document!, route) : null;
    return route && moved ? { route, moved } : null;
  };

  /** @param overId a section; left out: the pattern */
  function addFor({ target, paramId }: Setting, words: string, overId = patternId.value): boolean {
    const added = project.run(`a lane for ${words}`, addLane, { overId, target, paramId });
    if (added) [chosenId.value] = added.made as [string];
    return added !== null;
  }
  const add = (one: Movable) => addFor(one, one.words);

  function remove(lane: Lane): void {
    project.run('no lane', removeModulator, { modulatorId: lane.id });
  }

  function draw(lane: Lane, points: readonly LanePoint[], label = 'draw a lane'): void {
    project.run(label, drawLane, { laneId: lane.id, points });
  }

  function setLength(lane: Lane, lengthTicks: number | null): void {
    project.run('length of a lane', setLaneLength, { laneId: lane.id, lengthTicks });
  }

  function copyTo(lane: Lane, { target, paramId, words }: Movable): void {
    const copied = project.run(`the same for ${words}`, copyLane, { laneId: lane.id, target, paramId });
    if (copied) [chosenId.value] = copied.made as [string];
  }

  const change = {
    flatter: (lane: Lane) => draw(lane, scaled(lane.points, 0.8), 'flatter'),
    steeper: (lane: Lane) => draw(lane, scaled(lane.points, 1.25), 'steeper'),
    higher: (lane: Lane) => draw(lane, raised(lane.points, 0.05), 'higher'),
    lower: (lane: Lane) => draw(lane, raised(lane.points, -0.05), 'lower'),
    upsideDown: (lane: Lane) => draw(lane, turnedOver(lane.points), 'upside down'),
    backwards: (lane: Lane) => draw(lane, backwards(lane.points, lengthOf(lane)), 'backwards'),
    thinOut: (lane: Lane) => draw(lane, thinned(lane.points, THIN), 'thin out'),
    clear: (lane: Lane) => draw(lane, [lanePoint(0, restOf(lane))], 'clear a lane'),
  };
  /** Where its setting stands as it is set. */
  function restOf(lane: Lane): number {
    const { amount = 0, offset = 0 } = movedOf(lane)?.route.values ?? {};
    return amount === 0 ? 0 : Math.max(0, Math.min(1, -offset / amount));
  }
  const shiftBy = (lane: Lane, ticks: number) =>
    draw(lane, shifted(lane.points, ticks, lengthOf(lane)), 'shift a lane');
  const shape = (lane: Lane, wanted: LaneShape, roundTicks: number) =>
    draw(lane, shaped(wanted, roundTicks, lengthOf(lane)), `${wanted} in a lane`);

  return {
    pencil,
    chosenId,
    patternId,
    lanes,
    free,
    withoutTaken,
    lengthOf,
    movedOf,
    add,
    addFor,
    remove,
    draw,
    setLength,
    copyTo,
    change,
    shiftBy,
    shape,
  };
});

function nameOf({ target, paramId }: Pick<Movable, 'target' | 'paramId'>): string {
  return `${target.kind} ${target.id} ${paramId}`;
}
