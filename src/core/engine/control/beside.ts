/**
 * What is worked out once in each control step, and not for each sound: lanes, macros, and the modulators of parts that move
 * what the part is heard through. What moves another comes before it.
 */
import { LANE_ON, MACRO_POSITION } from '../../params/modulators.ts';
import type { PartState } from '../part-state.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import { clear, valueOf, wayOf, type ModulatorState, type RouteState } from './modulation.ts';
import type { OwnerValues } from './owner-values.ts';

/** One of those, with the part that it is of ('' for a macro) and its place among the part's. */
export interface BesideEntry {
  one: ModulatorState;
  partId: string;
  place: number;
}

export class Beside {
  private entries: readonly BesideEntry[] = [];
  /** Parts whose own modulators are looked at. */
  private partIds: readonly string[] = [];
  private lanes: readonly ModulatorState[] = [];
  private readonly lanesOfPart = new Map<string, ModulatorState[]>();
  /** Those that sources are led to: they are told what they are moved by in each step. */
  private led: ReadonlySet<OwnerValues> = new Set();

  /** @param entries in any order @param lanes with the parts that they are of */
  take(
    entries: readonly BesideEntry[],
    lanes: readonly { one: ModulatorState; partId: string }[],
    led: ReadonlySet<OwnerValues>,
  ): void {
    this.entries = inOrder(entries);
    this.partIds = [...new Set(entries.map(({ partId }) => partId))].filter((id) => id !== '');
    this.lanes = lanes.map(({ one }) => one);
    this.lanesOfPart.clear();
    for (const { one, partId } of lanes) {
      this.lanesOfPart.set(partId, [...(this.lanesOfPart.get(partId) ?? []), one]);
    }
    for (const owner of this.led) if (!led.has(owner)) owner.lead(false);
    for (const owner of led) owner.lead(true);
    this.led = led;
  }

  /** Is there something that moves by itself? */
  get isMoving(): boolean {
    return this.lanes.length > 0 || this.partIds.length > 0;
  }

  /** Nothing sounds that could make a step. */
  arrive(): void {
    for (const { routes } of this.lanes) for (const route of routes) route.arrive();
    for (const { one } of this.entries) {
      if (one.kind !== 'macro') continue;
      one.owner.arrive();
      for (const route of one.routes) route.arrive();
    }
  }

  /**
   * Looks where the lanes of a part are, or those over sections.
   * @param overId the pattern, or the section, that is played
   * @param ticks since its first round began; NaN: where they were
   * @param overTicks its length
   */
  lookAtLanes(partId: string, overId: string, ticks: number, overTicks: number): void {
    const lanes = this.lanesOfPart.get(partId);
    if (!lanes) return;
    for (let l = 0; l < lanes.length; l++) {
      const { lane, owner, routes, fragment } = lanes[l]!;
      const isOn = fragment.ownerId === overId && owner.now[LANE_ON] !== 0;
      lane!.look(ticks, overTicks, isOn);
      for (let r = 0; r < routes.length; r++) {
        routes[r]!.give(isOn ? lane!.value : null, lane!.jumpedBy, lane!.isAnew);
      }
      lane!.isAnew = false;
    }
  }

  /** @returns whether a shared source is on its way still */
  step(frame: number, clock: SongClock, sampleRate: number, parts: ReadonlyMap<string, PartState>): boolean {
    for (const owner of this.led) owner.clear();
    const { entries, lanes, partIds } = this;
    for (let e = 0; e < entries.length; e++) clear(entries[e]!.one);
    for (let l = 0; l < lanes.length; l++) bringGiven(lanes[l]!.routes);
    for (let p = 0; p < partIds.length; p++) {
      const part = parts.get(partIds[p]!);
      part?.hit.look(frame, part.clockOr(clock), sampleRate);
    }
    let isSliding = false;
    for (let e = 0; e < entries.length; e++) {
      const { one, partId, place } = entries[e]!;
      if (one.kind === 'macro') isSliding = giveMacro(one) || isSliding;
      else {
        const part = parts.get(partId);
        if (part) bringOwn(one, valueOf(one, place, part.hit.view));
      }
    }
    return isSliding;
  }
}

/** A dial: what it gives to sounds is fetched there. @returns whether that is on its way still */
function giveMacro(one: ModulatorState): boolean {
  const { owner, routes } = one;
  owner.fold();
  const value = owner.now[MACRO_POSITION]!;
  let isSliding = false;
  for (let r = 0; r < routes.length; r++) {
    const route = routes[r]!;
    route.owner.fold();
    route.give(value, 0, one.isNew);
    isSliding = isSliding || route.isSliding;
  }
  one.isNew = false;
  bringGiven(routes);
  return isSliding;
}

const isOfSounds = ({ fragment: { kind } }: RouteState) => kind === 'zone' || kind === 'sounds';

function bringGiven(routes: readonly RouteState[]): void {
  for (let r = 0; r < routes.length; r++) {
    const route = routes[r]!;
    if (!isOfSounds(route)) route.target?.add(route.fragment.slot, route.given);
  }
}

function bringOwn({ routes }: ModulatorState, value: number): void {
  for (let r = 0; r < routes.length; r++) {
    const route = routes[r]!;
    if (!isOfSounds(route)) route.target?.add(route.fragment.slot, wayOf(route, value));
  }
}

/** What moves another comes before it; there are no rings. */
function inOrder(entries: readonly BesideEntry[]): readonly BesideEntry[] {
  const byOne = new Map(entries.map((entry) => [entry.one, entry]));
  return ordered([...byOne.keys()]).map((one) => byOne.get(one)!);
}

/** What moves another comes before it; there are no rings. */
export function ordered(list: readonly ModulatorState[]): readonly ModulatorState[] {
  const out: ModulatorState[] = [];
  const isIn = new Set<ModulatorState>();
  const put = (one: ModulatorState): void => {
    if (isIn.has(one)) return;
    isIn.add(one);
    for (const other of list) if (other !== one && movesIt(other, one)) put(other);
    out.push(one);
  };
  for (const one of list) put(one);
  return out;
}

export function movesIt({ routes }: ModulatorState, { owner, routes: own }: ModulatorState): boolean {
  return routes.some(
    ({ target }) => target !== null && (target === owner || own.some((route) => route.owner === target)),
  );
}
