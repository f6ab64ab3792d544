/** All modulators of the plan: by whom they belong to, in the order in which they are worked out, led to what they move. */
import { isShared, type TargetKind } from '../../params/modulators.ts';
import type { ModulatorFragment } from '../plan/fragments.ts';
import { Beside, movesIt, ordered, type BesideEntry } from './beside.ts';
import { ModulatorState, type RouteState } from './modulation.ts';
import type { OwnerValues } from './owner-values.ts';

const NONE: readonly ModulatorState[] = [];
const NO_ROUTES: readonly RouteState[] = [];
/** What is worked out once, and not for each sound. */
const BESIDE: readonly TargetKind[] = ['channel', 'effect', 'send', 'double', 'helper'];
const isBeside = (kind: TargetKind) => BESIDE.includes(kind);
const isOfSounds = (kind: TargetKind) => kind === 'zone' || kind === 'sounds';

export class ModulatorTable {
  /** What is worked out once in each step. */
  readonly beside = new Beside();
  private readonly byId = new Map<string, ModulatorState>();
  private readonly byOwner = new Map<string, readonly ModulatorState[]>();
  /** Of those, what is worked out for each sound. */
  private readonly ofSounds = new Map<string, readonly ModulatorState[]>();
  private shared: readonly ModulatorState[] = NONE;
  /** What macros and lanes give to sounds, and to what moves those: by the zone, or by the part for all its sounds. */
  private readonly given = new Map<string, RouteState[]>();
  /** Something may not have reached yet what it was set to. */
  isOnItsWay = false;

  constructor(private readonly sampleRate: number) {}

  get ids(): string[] {
    return [...this.byId.keys()];
  }

  /** Takes new and changed ones; those that are gone are forgotten. */
  take(changed: readonly ModulatorFragment[], gone: readonly string[]): void {
    for (const fragment of changed) {
      const known = this.byId.get(fragment.id);
      if (known?.kind === fragment.kind) known.take(fragment);
      else this.byId.set(fragment.id, new ModulatorState(fragment, this.sampleRate));
    }
    for (const id of gone) this.byId.delete(id);
    if (changed.length === 0 && gone.length === 0) return;
    this.isOnItsWay = true;
    this.leadAmongThemselves();
    const all = [...this.byId.values()];
    this.shared = all.filter(({ kind }) => isShared(kind));
    this.byOwner.clear();
    this.ofSounds.clear();
    const groups = new Map<string, ModulatorState[]>();
    for (const one of all) {
      const { ownerId } = one.fragment;
      if (!isShared(one.kind)) groups.set(ownerId, [...(groups.get(ownerId) ?? []), one]);
    }
    for (const [ownerId, group] of groups) {
      const list = ordered(group);
      this.byOwner.set(ownerId, list);
      this.ofSounds.set(ownerId, thatReachSounds(list));
    }
  }

  private leadAmongThemselves(): void {
    const routes = new Map<string, RouteState>();
    for (const one of this.byId.values()) for (const route of one.routes) routes.set(route.fragment.id, route);
    const owners = new Set<OwnerValues>();
    for (const route of routes.values()) {
      const { kind, targetId } = route.fragment;
      if (kind === 'modulator') route.target = this.byId.get(targetId ?? '')?.owner ?? null;
      else if (kind === 'route') route.target = routes.get(targetId ?? '')?.owner ?? null;
      else continue;
      if (route.target) owners.add(route.target);
    }
    for (const { owner, routes: own } of this.byId.values()) {
      owner.lead(owners.has(owner));
      for (const route of own) route.owner.lead(owners.has(route.owner));
    }
  }

  /**
   * Leads what moves something beside sounds to it, and what all sounds share to those.
   * @param find the owner of a kind and an id @param partOf the part that a lane is of, by the pattern under it
   */
  leadBeside(find: (kind: TargetKind, id: string) => OwnerValues | null, partOf: (ownerId: string) => string): void {
    const led = new Set<OwnerValues>();
    for (const { routes } of this.byId.values()) {
      for (const route of routes) {
        const { kind, targetId } = route.fragment;
        if (!isBeside(kind)) continue;
        route.target = find(kind, targetId!);
        if (route.target) led.add(route.target);
      }
    }
    const macros = this.shared.filter(({ kind }) => kind === 'macro');
    const dials = new Set<OwnerValues>();
    for (const { owner, routes } of macros)
      for (const one of [owner, ...routes.map((route) => route.owner)]) dials.add(one);
    const entries: BesideEntry[] = macros.map((one) => ({ one, partId: '', place: 0 }));
    for (const [partId, list] of this.byOwner) {
      const reaches = ({ target, fragment }: RouteState) =>
        target !== null && (isBeside(fragment.kind) || dials.has(target));
      if (!list.some(({ routes }) => routes.some(reaches))) continue;
      for (const [place, one] of list.entries()) entries.push({ one, partId, place });
    }
    const lanes = this.shared.flatMap((one) =>
      one.kind === 'lane' ? [{ one, partId: partOf(one.fragment.ownerId) }] : [],
    );
    this.beside.take(entries, lanes, led);
    this.giveToSounds(macros, lanes);
  }

  private giveToSounds(
    macros: readonly ModulatorState[],
    lanes: readonly { one: ModulatorState; partId: string }[],
  ): void {
    this.given.clear();
    const give = (route: RouteState, ownSounds: string) => {
      const { kind, targetId } = route.fragment;
      const to = isOfSounds(kind) ? (targetId ?? ownSounds) : this.ownerIdOf(route.target);
      if (to !== null) this.given.set(to, [...(this.given.get(to) ?? []), route]);
    };
    for (const { routes } of macros) for (const route of routes) give(route, '');
    for (const { one, partId } of lanes) for (const route of one.routes) give(route, partId);
  }

  /** Whom a modulator belongs to that a route leads to; null for what is none, or shared. */
  private ownerIdOf(target: OwnerValues | null): string | null {
    for (const [ownerId, list] of this.byOwner) {
      if (list.some(({ owner, routes }) => owner === target || routes.some((route) => route.owner === target)))
        return ownerId;
    }
    return null;
  }

  /** Is there something to be worked out beside sounds? */
  get hasToStep(): boolean {
    return this.isOnItsWay || this.beside.isMoving;
  }

  /** What moves the sounds of a zone: that of all its part first. */
  of(partId: string, zoneId: string): readonly ModulatorState[] {
    return joined(this.ofSounds.get(partId) ?? NONE, this.ofSounds.get(zoneId) ?? NONE);
  }

  /** What macros and lanes give to the sounds of a zone. */
  givenTo(partId: string, zoneId: string): readonly RouteState[] {
    return joined(this.given.get(partId) ?? NO_ROUTES, this.given.get(zoneId) ?? NO_ROUTES);
  }

  /** The settings of a modulator, or of a route. */
  private ownerOf(kind: 'modulator' | 'route', id: string): OwnerValues | null {
    if (kind === 'modulator') return this.byId.get(id)?.owner ?? null;
    for (const { routes } of this.byId.values()) {
      for (const { fragment, owner } of routes) if (fragment.id === id) return owner;
    }
    return null;
  }

  /** Sets one setting of a modulator or a route. */
  setValue(kind: 'modulator' | 'route', id: string, slot: number, value: number): void {
    this.ownerOf(kind, id)?.set(slot, value);
    this.isOnItsWay = true;
  }

  /** Goes one control step on with what was set. */
  step(): void {
    this.isOnItsWay = false;
    for (const { owner, routes } of this.byId.values()) {
      owner.step();
      this.isOnItsWay ||= owner.isOnItsWay;
      for (let r = 0; r < routes.length; r++) {
        const route = routes[r]!.owner;
        route.step();
        this.isOnItsWay ||= route.isOnItsWay;
      }
    }
  }
}

/** Those that move sounds, or what does. @param list in the order in which they are worked out */
function thatReachSounds(list: readonly ModulatorState[]): readonly ModulatorState[] {
  const kept: ModulatorState[] = [];
  for (const one of list.toReversed()) {
    const isOfSound = one.routes.some(({ fragment }) => isOfSounds(fragment.kind));
    if (isOfSound || kept.some((other) => movesIt(one, other))) kept.unshift(one);
  }
  return kept;
}

function joined<T>(shared: readonly T[], own: readonly T[]): readonly T[] {
  if (own.length === 0) return shared;
  return shared.length === 0 ? own : [...shared, ...own];
}
