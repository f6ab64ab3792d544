/**
 * What is moved while the song plays is written into a lane: from touch to release, or from the first touch on until it is
 * stopped. Each round is a step of its own, so that undo takes back the last one only.
 */
import { useRafFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { rowsOfTarget } from '#core/document/owners.ts';
import type { LanePoint, RouteTarget } from '#core/document/schema.ts';
import { drawnOver, lanePoint, thinned } from '#core/lanes/points.ts';
import { addLane, drawLane } from '#core/project/commands/lanes.ts';
import { setRange, type Setting } from '#core/project/commands/macros.ts';
import type { Owner, SetValueArgs } from '#core/project/commands/values.ts';
import { lanesOver, settingOfLane, type Lane } from '#core/queries/lanes.ts';
import { shareTo } from '#core/queries/macros.ts';
import { numberOf } from '#core/queries/setting-values.ts';
import { engine } from '../../audio/services.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useNotices } from '../frame/notices.ts';
import { usePlayheadTicks } from './playhead-ticks.ts';

export type Writing = 'off' | 'touch' | 'on';

/** Written points that lie nearly on a line go, in shares of the range. */
const TOLERANCE = 0.004;
/** A touch without a hand that holds something, as by keys, is over when nothing was moved for so long. */
const RELEASE_MS = 350;
const MOST_SHARE = 4;

/** One setting while it is written. */
interface Written {
  laneId: string;
  setting: Setting;
  /** As stored, as it was moved last. */
  value: number;
  movedAt: number;
  /** A hand holds what moves it. */
  isHeld: boolean;
  /** The course before this round, and what was written over it. */
  before: readonly LanePoint[];
  drawn: LanePoint[];
  lastTicks: number;
}

export const useLaneWriting = defineStore('lane-writing', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const playheadTicks = usePlayheadTicks();
  const mode = ref<Writing>('off');
  const written = new Map<string, Written>();
  /** Counts up with what is written: what is shown of it follows. */
  const version = ref(0);

  const isWriting = computed(() => version.value >= 0 && written.size > 0);

  project.catchValues((args) => mode.value !== 'off' && engine.status.playing && caught(args), shown);

  function caught({ owners, param, change }: SetValueArgs): boolean {
    const target = owners.length === 1 ? targetOf(owners[0]!) : null;
    const row = target && rowsOfTarget(project.document!, target)?.[param];
    if (row?.kind !== 'number' || row.movedBy === 0) return false;
    const setting = { target: target!, paramId: param };
    const key = nameOf(setting);
    const known = written.get(key);
    const now = known?.value ?? numberOf(project.document!, setting.target, param) ?? row.default;
    const value = 'to' in change ? Number(change.to) : now + change.by;
    if (known) Object.assign(known, { value, movedAt: performance.now(), isHeld: project.isHeld() });
    else if (!begin(setting, key, value)) return false;
    version.value++;
    return true;
  }

  function begin(setting: Setting, key: string, value: number): boolean {
    const ticks = playheadTicks();
    const lane = ticks === null ? null : laneOf(setting);
    if (!lane) return false;
    written.set(key, {
      laneId: lane.id,
      setting,
      value,
      movedAt: performance.now(),
      isHeld: project.isHeld(),
      before: lane.points,
      drawn: [],
      lastTicks: ticks!,
    });
    frames.resume();
    // Armed in Shape, moved anywhere: that it is no setting which changes has to be said.
    notices.info(
      `${rowsOfTarget(project.document!, setting.target)![setting.paramId]!.label} is written into a lane.`,
      {
        label: 'Write nothing',
        run: () => (mode.value = 'off'),
      },
    );
    return true;
  }

  /** The lane of a setting over what plays; one that reaches over the whole of the setting's range is laid where there is none. */
  function laneOf(setting: Setting): Lane | null {
    const patternId = session.part!.activePatternId;
    const find = () =>
      lanesOver(project.document!, patternId).find((lane) => {
        const route = settingOfLane(project.document!, lane);
        return route && nameOf(route) === nameOf(setting);
      }) ?? null;
    const known = find();
    if (known) return known;
    project.step('write a lane', () => {
      if (!project.run('', addLane, { overId: patternId, ...setting })) return;
      const lane = find()!;
      const route = settingOfLane(project.document!, lane)!;
      const row = rowsOfTarget(project.document!, setting.target)![setting.paramId]!;
      if (row.kind !== 'number') return;
      const base = numberOf(project.document!, setting.target, setting.paramId) ?? row.default;
      const [from, to] = [row.min, row.max].map((end) => within(shareTo(row, base, end)));
      project.run('', setRange, { routeId: route.id, from: from!, to: to! });
      const rest = -from! / (to! - from!);
      project.run('', drawLane, { laneId: lane.id, points: [lanePoint(0, rest)] });
    });
    return find();
  }

  const frames = useRafFn(
    () => {
      const ticks = playheadTicks();
      if (ticks === null || mode.value === 'off') return stop();
      for (const [key, one] of written) write(key, one, ticks);
      if (written.size === 0) frames.pause();
    },
    { immediate: false },
  );

  function write(key: string, one: Written, ticks: number): void {
    const lane = project.document?.modulators[one.laneId] as Lane | undefined;
    if (!lane) {
      written.delete(key);
      return;
    }
    const isLetGo = one.isHeld ? !project.isHeld() : performance.now() - one.movedAt > RELEASE_MS;
    if (mode.value === 'touch' && isLetGo) {
      end(key, one);
      return;
    }
    const lengthTicks = lane.lengthTicks ?? session.lengthTicks;
    const at = ticks % lengthTicks;
    // The position that the page is told wavers by a little: only what goes far back has gone round.
    if (at < one.lastTicks - lengthTicks / 2) finishRound(one);
    else if (at <= one.lastTicks) return;
    one.lastTicks = at;
    one.drawn.push(lanePoint(at, shareOf(one)));
    put(one, 'write a lane');
  }

  /** Where a value lies in the range of its lane. */
  function shareOf({ laneId, setting, value }: Written): number {
    const { document } = project;
    const route = settingOfLane(document!, { id: laneId });
    const row = rowsOfTarget(document!, setting.target)?.[setting.paramId];
    if (!route || row?.kind !== 'number') return 0;
    const base = numberOf(document!, setting.target, setting.paramId) ?? row.default;
    const { amount = 0, offset = 0 } = route.values;
    return amount === 0 ? 0 : Math.max(0, Math.min(1, (shareTo(row, base, value) - offset) / amount));
  }

  function put({ laneId, before, drawn }: Written, label: string): void {
    if (drawn.length < 2) return;
    const points = drawnOver(before, thinned(drawn, TOLERANCE));
    // One step a round, however often it is drawn in it.
    project.run(label, drawLane, { laneId, points }, `${laneId} ${roundOf(laneId)}`);
  }

  const rounds = new Map<string, number>();
  const roundOf = (laneId: string) => rounds.get(laneId) ?? 0;
  function finishRound(one: Written): void {
    project.splitGesture();
    rounds.set(one.laneId, roundOf(one.laneId) + 1);
    const lane = project.document?.modulators[one.laneId] as Lane | undefined;
    one.before = lane?.points ?? one.before;
    one.drawn = [];
  }

  function end(key: string, one: Written): void {
    finishRound(one);
    written.delete(key);
    version.value++;
  }

  function stop(): void {
    for (const [key, one] of written) end(key, one);
    frames.pause();
  }
  watch(
    () => [mode.value, session.part?.activePatternId],
    () => stop(),
  );

  /** As it is moved just now, while it is written; null otherwise. */
  function shown(owner: Owner, paramId: string): number | null {
    if (version.value < 0 || written.size === 0) return null;
    const target = targetOf(owner);
    return (target && written.get(nameOf({ target, paramId }))?.value) ?? null;
  }

  return { mode, isWriting, stop };
});

const within = (share: number) => Math.max(-MOST_SHARE, Math.min(MOST_SHARE, share));

function nameOf({ target, paramId }: Pick<Setting, 'target' | 'paramId'>): string {
  return `${target.kind} ${target.id} ${paramId}`;
}

/** What of an owner a lane may move. */
function targetOf(owner: Owner): RouteTarget | null {
  const { kind } = owner;
  const isMovable =
    kind === 'channel' || kind === 'effect' || kind === 'send' || kind === 'modulator' || kind === 'double';
  return isMovable ? { kind, id: owner.id } : null;
}
