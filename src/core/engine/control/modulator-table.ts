/** All modulators of the plan: by whom they belong to, in the order in which they are worked out, led to what they move. */
import type { TargetKind } from '../../params/modulators.ts';
import type { ModulatorFragment } from '../plan/fragments.ts';
import { ModulatorState, type RouteState } from './modulation.ts';
import type { OwnerValues } from './owner-values.ts';

const NONE: readonly ModulatorState[] = [];
/** What is worked out once, and not for each sound. */
const isBeside = (kind: TargetKind) => kind === 'channel' || kind === 'effect' || kind === 'send';

export class ModulatorTable {
  private readonly byId = new Map<string, ModulatorState>();
  private readonly byOwner = new Map<string, readonly ModulatorState[]>();
  /** Of those, what is worked out for each sound. */
  private readonly ofSounds = new Map<string, readonly ModulatorState[]>();
  /** Those that others are led to beside sounds: they are told what they are moved by in each step. */
  private readonly led = new Set<OwnerValues>();
  /** Something may not have reached yet what it was set to. */
  isOnItsWay = false;
  private beside: readonly { partId: string; list: readonly ModulatorState[] }[] = [];

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
    const groups = new Map<string, ModulatorState[]>();
    for (const one of this.byId.values()) {
      const { ownerId } = one.fragment;
      groups.set(ownerId, [...(groups.get(ownerId) ?? []), one]);
    }
    this.byOwner.clear();
    this.ofSounds.clear();
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

  /** Leads what moves something beside sounds to it. @param find the owner of a kind and an id */
  leadBeside(find: (kind: TargetKind, id: string) => OwnerValues | null): void {
    const before = new Set(this.led);
    this.led.clear();
    const beside: { partId: string; list: readonly ModulatorState[] }[] = [];
    for (const [partId, list] of this.byOwner) {
      let isAny = false;
      for (const { routes } of list) {
        for (const route of routes) {
          const { kind, targetId } = route.fragment;
          if (!isBeside(kind)) continue;
          route.target = find(kind, targetId!);
          if (!route.target) continue;
          isAny = true;
          this.led.add(route.target);
          route.target.lead(true);
        }
      }
      if (isAny) beside.push({ partId, list });
    }
    for (const owner of before) if (!this.led.has(owner)) owner.lead(false);
    this.beside = beside;
  }

  /** Parts whose modulators move something beside their sounds. */
  get movesBeside(): readonly { readonly partId: string; readonly list: readonly ModulatorState[] }[] {
    return this.beside;
  }

  /** Is there something to be worked out beside sounds? */
  get hasToStep(): boolean {
    return this.isOnItsWay || this.beside.length > 0;
  }

  /** Forgets what was brought beside sounds in the last step. */
  clearBeside(): void {
    for (const owner of this.led) owner.clear();
  }

  /** What moves the sounds of a zone: that of all its part first. */
  of(partId: string, zoneId: string): readonly ModulatorState[] {
    const shared = this.ofSounds.get(partId) ?? NONE;
    const own = this.ofSounds.get(zoneId) ?? NONE;
    if (own.length === 0) return shared;
    return shared.length === 0 ? own : [...shared, ...own];
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
    const isOfSounds = one.routes.some(({ fragment }) => fragment.kind === 'zone');
    if (isOfSounds || kept.some((other) => movesIt(one, other))) kept.unshift(one);
  }
  return kept;
}

/** What moves another comes before it; there are no rings. */
function ordered(list: readonly ModulatorState[]): readonly ModulatorState[] {
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

function movesIt({ routes }: ModulatorState, { owner, routes: own }: ModulatorState): boolean {
  return routes.some(
    ({ target }) => target !== null && (target === owner || own.some((route) => route.owner === target)),
  );
}
