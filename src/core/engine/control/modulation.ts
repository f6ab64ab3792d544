/**
 * Modulators as the engine keeps them, in the order in which they are worked out: what moves another comes before it. They
 * are looked at for every voice, and once for a part as a whole where they move what it is heard through.
 */
import { bent } from '../../dsp/bend.ts';
import { MODULATOR_ROWS, ROUTE, ROUTE_ROWS, type ModulatorKind } from '../../params/modulators.ts';
import { slotsOf, type Rows } from '../../params/row.ts';
import type { ModulatorFragment, RouteFragment } from '../plan/fragments.ts';
import { CONTROL_FRAMES } from './control-step.ts';
import { Lane } from './lane.ts';
import { aheadOf, modulatorValue, type ControlView, type Modulating } from './modulators.ts';
import { OwnerValues } from './owner-values.ts';

export class RouteState {
  readonly owner: OwnerValues;
  /** Whose setting it moves, where that is none of a sound's. */
  target: OwnerValues | null = null;
  /** How far a shared source moves its setting in this step: a macro, a lane. */
  given = 0;
  /** What is left of a step on the way to what is wanted, and control steps to go. */
  private behind = 0;
  private stepsLeft = 0;
  private readonly steps: number;
  /** Nothing sounds that could make a step. */
  private isThere = false;

  constructor(
    readonly fragment: RouteFragment,
    sampleRate: number,
  ) {
    this.owner = new OwnerValues(ROUTE_ROWS, fragment.values, sampleRate);
    this.steps = Math.round(((fragment.smoothingMs / 1000) * sampleRate) / CONTROL_FRAMES);
  }

  /** How far its setting is moved, in the unit that the row says. @param value of the source, -1..1 */
  way(value: number): number {
    const { now } = this.owner;
    const bend = now[ROUTE.bend]!;
    let way = bend === 0 ? value : Math.sign(value) * bent(Math.abs(value), bend);
    way = Math.max(now[ROUTE.least]!, Math.min(now[ROUTE.most]!, way));
    return (way * now[ROUTE.amount]! + now[ROUTE.offset]!) * this.fragment.by;
  }

  /**
   * Follows a shared source; a step of it is reached in the time of the setting.
   * @param value of the source; null: it moves nothing now
   * @param jumpedBy how much of its way since the last look was a step
   * @param isAnew all of it was
   */
  give(value: number | null, jumpedBy: number, isAnew: boolean): void {
    const wanted = value === null ? 0 : this.way(value);
    if (this.isThere || this.steps === 0) this.stepsLeft = 0;
    else if (isAnew || jumpedBy !== 0) {
      const left = this.stepsLeft === 0 ? 0 : (this.behind * this.stepsLeft) / this.steps;
      this.behind = isAnew ? this.given - wanted : left + this.way(value! - jumpedBy) - wanted;
      this.stepsLeft = this.behind === 0 ? 0 : this.steps;
    }
    this.isThere = false;
    if (this.stepsLeft === 0) {
      this.given = wanted;
      return;
    }
    this.stepsLeft--;
    this.given = wanted + (this.behind * this.stepsLeft) / this.steps;
  }

  /** Is it behind what it is to give? */
  get isSliding(): boolean {
    return this.stepsLeft > 0;
  }

  /** Nothing sounds that could make a step: what it gives next, it gives at once. */
  arrive(): void {
    this.isThere = true;
  }
}

export class ModulatorState implements Modulating {
  fragment: ModulatorFragment;
  readonly owner: OwnerValues;
  routes: RouteState[] = [];
  readonly lane: Lane | null;
  /** A macro that has given nothing yet. */
  isNew = true;
  /** Place of the rate in its values; -1 where it has none. */
  readonly rateSlot: number;
  private readonly restartsSlot: number;

  constructor(
    fragment: ModulatorFragment,
    private readonly sampleRate: number,
  ) {
    this.fragment = fragment;
    this.owner = new OwnerValues(MODULATOR_ROWS[fragment.kind] as Rows, fragment.values, sampleRate);
    const rows: Rows = MODULATOR_ROWS[fragment.kind];
    const slots = slotsOf(rows);
    this.rateSlot = slots.rateHz ?? -1;
    this.restartsSlot = slots.restarts ?? -1;
    this.lane = fragment.lane ? new Lane(fragment.lane) : null;
    this.take(fragment);
  }

  take(fragment: ModulatorFragment): void {
    const known = new Map(this.routes.map((route) => [route.fragment.id, route]));
    this.fragment = fragment;
    this.owner.take(fragment.values);
    if (fragment.lane) this.lane?.take(fragment.lane);
    this.routes = fragment.routes.map((one) => {
      const route = known.get(one.id);
      if (!route || route.fragment.slot !== one.slot || route.fragment.targetId !== one.targetId)
        return new RouteState(one, this.sampleRate);
      route.owner.take(one.values);
      return route;
    });
  }

  get kind(): ModulatorKind {
    return this.fragment.kind;
  }
  get values(): Float64Array {
    return this.owner.now;
  }
  get steps(): readonly number[] {
    return this.fragment.steps;
  }
  get points(): ModulatorFragment['points'] {
    return this.fragment.points;
  }
  get seed(): number {
    return this.fragment.seed;
  }

  /** How much faster it goes than it is set to, in Hz. */
  get hurriesByHz(): number {
    return this.owner.now[this.rateSlot]! - this.owner.base[this.rateSlot]!;
  }

  get restarts(): boolean {
    return this.owner.now[this.restartsSlot] !== 0;
  }
}

/**
 * Works the modulators of a sound out, in their order, and lays what they move of it into `sums`.
 * @param given what macros and lanes give to the sound, and to those modulators
 * @param sums in the order of ZONE_ROWS
 */
export function modulate(
  list: readonly ModulatorState[],
  given: readonly RouteState[],
  view: ControlView,
  sums: Float64Array,
): void {
  sums.fill(0);
  for (let m = 0; m < list.length; m++) clear(list[m]!);
  for (let r = 0; r < given.length; r++) bring(given[r]!, given[r]!.given, sums);
  for (let m = 0; m < list.length; m++) {
    const one = list[m]!;
    const { routes } = one;
    if (routes.length === 0) continue;
    const value = valueOf(one, m, view);
    for (let r = 0; r < routes.length; r++) bring(routes[r]!, wayOf(routes[r]!, value), sums);
  }
}

/** What was brought to a modulator and its routes is forgotten. */
export function clear({ owner, routes }: ModulatorState): void {
  owner.clear();
  for (let r = 0; r < routes.length; r++) routes[r]!.owner.clear();
}

/** What a modulator says now. @param place among those of its owner */
export function valueOf(one: ModulatorState, place: number, view: ControlView): number {
  one.owner.fold();
  view.ahead = one.rateSlot < 0 ? 0 : aheadOf(view, place, one.hurriesByHz, one.restarts);
  return modulatorValue(one, view);
}

/** How far a route moves its setting for a value of its source. */
export function wayOf(route: RouteState, value: number): number {
  route.owner.fold();
  return route.way(value);
}

function bring({ fragment: { kind, slot }, target }: RouteState, way: number, sums: Float64Array): void {
  if (kind === 'zone' || kind === 'sounds') sums[slot]! += way;
  else if (kind === 'modulator' || kind === 'route') target?.add(slot, way);
}
