/**
 * Modulators as the engine keeps them, in the order in which they are worked out: what moves another comes before it. They
 * are looked at for every voice, and once for a part as a whole where they move what it is heard through.
 */
import { bent } from '../../dsp/bend.ts';
import { MODULATOR_ROWS, ROUTE, ROUTE_ROWS, type ModulatorKind } from '../../params/modulators.ts';
import { slotsOf, type Rows } from '../../params/row.ts';
import type { ModulatorFragment, RouteFragment } from '../plan/fragments.ts';
import { aheadOf, modulatorValue, type ControlView, type Modulating } from './modulators.ts';
import { OwnerValues } from './owner-values.ts';

export class RouteState {
  readonly owner: OwnerValues;
  /** Another modulator, or a route, whose setting it moves. */
  target: OwnerValues | null = null;

  constructor(
    readonly fragment: RouteFragment,
    sampleRate: number,
  ) {
    this.owner = new OwnerValues(ROUTE_ROWS, fragment.values, sampleRate);
  }

  /** How far its setting is moved, in the unit that the row says. @param value of the source, -1..1 */
  way(value: number): number {
    const { now } = this.owner;
    const bend = now[ROUTE.bend]!;
    let way = bend === 0 ? value : Math.sign(value) * bent(Math.abs(value), bend);
    way = Math.max(now[ROUTE.least]!, Math.min(now[ROUTE.most]!, way));
    return way * now[ROUTE.amount]! * this.fragment.by;
  }
}

export class ModulatorState implements Modulating {
  fragment: ModulatorFragment;
  readonly owner: OwnerValues;
  routes: RouteState[] = [];
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
    this.take(fragment);
  }

  take(fragment: ModulatorFragment): void {
    const known = new Map(this.routes.map((route) => [route.fragment.id, route]));
    this.fragment = fragment;
    this.owner.take(fragment.values);
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
 * Works modulators out, in their order, and lays what they move of sounds into `sums`; with null what they move beside
 * them is brought there.
 * @param sums in the order of ZONE_ROWS
 */
export function modulate(list: readonly ModulatorState[], view: ControlView, sums: Float64Array | null): void {
  sums?.fill(0);
  for (let m = 0; m < list.length; m++) clear(list[m]!);
  for (let m = 0; m < list.length; m++) {
    const one = list[m]!;
    const { owner, routes } = one;
    if (routes.length === 0) continue;
    owner.fold();
    view.ahead = one.rateSlot < 0 ? 0 : aheadOf(view, m, one.hurriesByHz, one.restarts);
    const value = modulatorValue(one, view);
    for (let r = 0; r < routes.length; r++) bring(routes[r]!, value, sums);
  }
}

function clear({ owner, routes }: ModulatorState): void {
  owner.clear();
  for (let r = 0; r < routes.length; r++) routes[r]!.owner.clear();
}

function bring(route: RouteState, value: number, sums: Float64Array | null): void {
  const { fragment, target } = route;
  route.owner.fold();
  const { kind, slot } = fragment;
  if (kind === 'zone') {
    if (sums) sums[slot]! += route.way(value);
  } else if (kind === 'modulator' || kind === 'route' || !sums) target?.add(slot, route.way(value));
}
