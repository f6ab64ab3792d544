/** Draws in a lane with the pointer: points with lines between them, steps of the grid, or freely. Each press is one step. */
import type { Ref } from 'vue';
import type { LanePoint } from '#core/document/schema.ts';
import { stepSet } from '#core/lanes/changes.ts';
import { drawnOver, lanePoint, laneValue, thinned } from '#core/lanes/points.ts';
import type { Lane } from '#core/queries/lanes.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { useLanes } from '../../stores/sound/lanes.ts';

/** Freely drawn points that lie nearly on a line go, in shares of the range. */
const TOLERANCE = 0.006;
/** A point this near to a line of the grid comes onto it. */
const SNAP_PX = 5;
const BEND_PX = 60;

interface Field {
  box: Ref<HTMLElement | null>;
  lane: () => Lane;
  /** Of the field, and of the lane within it. */
  ticksAt: (x: number) => number;
  xAt: (ticks: number) => number;
  valueAt: (y: number) => number;
  lengthTicks: () => number;
  gridTicks: () => number;
}

export function useLaneDrawing(field: Field) {
  const project = useProject();
  const lanes = useLanes();

  function placeOf(event: PointerEvent | MouseEvent): { ticks: number; value: number } {
    const { x, y } = localPoint(event, field.box.value!);
    const ticks = Math.max(0, Math.min(field.lengthTicks(), field.ticksAt(x)));
    return { ticks, value: Math.max(0, Math.min(1, field.valueAt(y))) };
  }

  /** On a line of the grid where it is near to one; with Shift it stays where it is. */
  function snapped(ticks: number, event: PointerEvent): number {
    const line = Math.round(ticks / field.gridTicks()) * field.gridTicks();
    const isNear = Math.abs(field.xAt(line) - field.xAt(ticks)) <= SNAP_PX;
    return isNear && !event.shiftKey ? Math.min(line, field.lengthTicks()) : ticks;
  }

  function follow(event: PointerEvent, label: string, move: (event: PointerEvent) => void): void {
    const gesture = project.begin(label);
    followPointer(event, {
      move: (moved) => {
        if (!gesture || gesture.isOpen) move(moved);
      },
      end: () => gesture?.commit(),
      cancel: () => gesture?.cancel(),
    });
  }

  function drawIn(event: PointerEvent): void {
    if (event.button !== 0) return;
    lanes.chosenId = field.lane().id;
    if (lanes.pencil === 'lines') addPoint(event);
    else if (lanes.pencil === 'steps') drawSteps(event);
    else drawFree(event);
  }

  function addPoint(event: PointerEvent): void {
    const { ticks, value } = placeOf(event);
    const { points } = field.lane();
    const added = lanePoint(snapped(ticks, event), value);
    const others = points.filter(({ at }) => Math.abs(at - added.at) > 1e-6);
    follow(event, 'draw a lane', (moved) => movePoint(others, added, moved));
    lanes.draw(field.lane(), [...others, added]);
  }

  /** @param others the points beside it, as they were when it was taken */
  function movePoint(others: readonly LanePoint[], point: LanePoint, event: PointerEvent): void {
    const { ticks, value } = placeOf(event);
    lanes.draw(field.lane(), [...others, { ...point, at: snapped(ticks, event), value }]);
  }

  function dragPoint(event: PointerEvent, point: LanePoint): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    lanes.chosenId = field.lane().id;
    const others = field.lane().points.filter((one) => one !== point);
    follow(event, 'move a point', (moved) => movePoint(others, point, moved));
  }

  /** Upwards the way to the next point comes sooner to it where it rises, and later where it falls. */
  function dragBend(event: PointerEvent, point: LanePoint): void {
    event.stopPropagation();
    const { points } = field.lane();
    const next = points[points.indexOf(point) + 1];
    const from = event.clientY;
    const direction = next && next.value < point.value ? -1 : 1;
    follow(event, 'bend a lane', (moved) => {
      const bend = (point.bend ?? 0) + (direction * (from - moved.clientY)) / BEND_PX;
      const bent = lanePoint(point.at, point.value, { bend: Math.max(-1, Math.min(1, Math.round(bend * 50) / 50)) });
      lanes.draw(
        field.lane(),
        points.map((one) => (one === point ? bent : one)),
      );
    });
  }

  function drawSteps(event: PointerEvent): void {
    let last = placeOf(event);
    const set = (moved: PointerEvent) => {
      const now = placeOf(moved);
      const grid = field.gridTicks();
      const lastStep = Math.ceil(field.lengthTicks() / grid) - 1;
      const stepOf = (ticks: number) => Math.max(0, Math.min(lastStep, Math.floor(ticks / grid)));
      const [from, to] = [stepOf(last.ticks), stepOf(now.ticks)];
      let { points } = field.lane();
      for (let step = Math.min(from, to); step <= Math.max(from, to); step++) {
        const share = from === to ? 1 : (step - from) / (to - from);
        const value = last.value + (now.value - last.value) * share;
        points = stepSet(points, step * grid, Math.min((step + 1) * grid, field.lengthTicks()), value);
      }
      last = now;
      lanes.draw(field.lane(), points, 'draw steps');
    };
    follow(event, 'draw steps', set);
    set(event);
  }

  function drawFree(event: PointerEvent): void {
    const before = field.lane().points;
    /** By pixels of the field. */
    const columns = new Map<number, number>();
    let last = localPoint(event, field.box.value!);
    const draw = (moved: PointerEvent) => {
      const now = localPoint(moved, field.box.value!);
      const count = Math.max(1, Math.abs(Math.round(now.x) - Math.round(last.x)));
      for (let i = 0; i <= count; i++) {
        const share = i / count;
        const value = field.valueAt(last.y + (now.y - last.y) * share);
        columns.set(Math.round(last.x + (now.x - last.x) * share), Math.max(0, Math.min(1, value)));
      }
      last = now;
      const drawn = [...columns]
        .sort(([one], [other]) => one - other)
        .map(([x, value]) => lanePoint(Math.max(0, Math.min(field.lengthTicks(), field.ticksAt(x))), value));
      if (drawn.length > 1) lanes.draw(field.lane(), drawnOver(before, thinned(drawn, TOLERANCE)));
    };
    follow(event, 'draw a lane', draw);
    draw(event);
  }

  function removePoint(point: LanePoint): void {
    const { points } = field.lane();
    if (points.length > 1)
      lanes.draw(
        field.lane(),
        points.filter((one) => one !== point),
        'no point',
      );
  }

  /** Arrow keys move a point by the grid, or by a hundredth of the height; Delete takes it out. */
  function onKey(event: KeyboardEvent, point: LanePoint): void {
    const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    const isGone = event.key === 'Delete' || event.key === 'Backspace';
    if (along === undefined && up === undefined && !isGone) return;
    event.preventDefault();
    event.stopPropagation();
    if (isGone) {
      removePoint(point);
      return;
    }
    const at = Math.max(0, Math.min(field.lengthTicks(), point.at + (along ?? 0) * field.gridTicks()));
    const value = Math.max(0, Math.min(1, point.value + ((up ?? 0) * (event.shiftKey ? 10 : 1)) / 100));
    const others = field.lane().points.filter((one) => one !== point);
    lanes.draw(field.lane(), [...others, { ...point, at, value }], 'move a point');
  }

  /** Adds a point in the middle of the widest gap: by the keyboard. */
  function addByKey(): void {
    const { points } = field.lane();
    const ends = [0, ...points.map(({ at }) => at), field.lengthTicks()];
    const widest = ends
      .slice(1)
      .reduce((best, end, i) => (end - ends[i]! > ends[best + 1]! - ends[best]! ? i : best), 0);
    const ticks = (ends[widest]! + ends[widest + 1]!) / 2;
    lanes.draw(field.lane(), [...points, lanePoint(ticks, laneValue(points, ticks))]);
  }

  return { drawIn, dragPoint, dragBend, removePoint, onKey, addByKey };
}
