/**
 * Effects one after another, in a channel or in a path of it. Those that stay keep their sound; what comes, goes or changes
 * its place does so without a step.
 */
import type { EffectFragment } from '../plan/fragments.ts';
import type { Moment, StereoBus } from './effects/effect.ts';

/** What stands in a row: see slot.ts. */
export interface RowSlot {
  readonly id: string;
  readonly effect: { readonly restFrames: number; readonly runInFrames?: number };
  /** Rows that its effect holds. */
  readonly rows: readonly EffectRow<RowSlot>[];
  readonly latencyFrames: number;
  readonly isOut: boolean;
  readonly isAtRest: boolean;
  readonly isStill: boolean;
  readonly listens: boolean;
  lateFrames: number;
  isLeaving: boolean;
  take(fragment: EffectFragment): void;
  enter(isIn: boolean, keepsSound?: boolean): void;
  arrive(): void;
  restart(): void;
  hush(): void;
  process(bus: StereoBus, from: number, count: number, moment: Moment): void;
}

export class EffectRow<Slot extends RowSlot> {
  private slots: Slot[] = [];
  /** Another order, which is taken when all effects are out. */
  private nextSlots: Slot[] | null = null;

  constructor(private readonly makeSlot: (fragment: EffectFragment) => Slot) {}

  take(fragments: readonly EffectFragment[]): void {
    const known = new Map([...this.slots, ...(this.nextSlots ?? [])].map((slot) => [slot.id, slot]));
    const wanted = fragments.map((fragment) => {
      const slot = known.get(fragment.id) ?? this.makeSlot(fragment);
      slot.take(fragment);
      return slot;
    });
    const staying = this.slots.filter((slot) => wanted.includes(slot));
    const isSameOrder = staying.every((slot, index) => wanted.filter((one) => staying.includes(one))[index] === slot);
    if (!isSameOrder) {
      this.nextSlots = wanted;
      for (const slot of this.slots) slot.enter(false);
      return;
    }
    this.nextSlots = null;
    // What goes stays in its place until it is out.
    const merged = [...wanted];
    this.slots.forEach((slot, place) => {
      if (wanted.includes(slot)) return;
      slot.isLeaving = true;
      slot.enter(false);
      merged.splice(Math.min(place, merged.length), 0, slot);
    });
    this.slots = merged;
  }

  get isEmpty(): boolean {
    return this.slots.length === 0 && !this.nextSlots;
  }

  /** Effects that sound, or are about to; those inside others, too. */
  get all(): readonly Slot[] {
    const own = this.nextSlots ? [...this.slots, ...this.nextSlots] : this.slots;
    return own.flatMap((slot) => [slot, ...(slot.rows as readonly EffectRow<Slot>[]).flatMap((row) => row.all)]);
  }

  slotOf(id: string): Slot | null {
    return this.all.find((slot) => slot.id === id) ?? null;
  }

  /** By how many frames they let the sound come later. */
  get latencyFrames(): number {
    return this.sumOf(latencyOf);
  }

  /** For so long they are fed before all of them sound as they will. */
  get runInFrames(): number {
    return this.sumOf(runInOf);
  }

  /** After so many frames of silence going in nothing more will come out. */
  get restFrames(): number {
    return this.sumOf(restOf);
  }

  private sumOf(framesOf: (slot: RowSlot) => number): number {
    const slots = this.nextSlots ?? this.slots;
    let frames = 0;
    for (let s = 0; s < slots.length; s++) if (!slots[s]!.isLeaving) frames += framesOf(slots[s]!);
    return frames;
  }

  /** How much later than what was struck the sound comes in here. */
  setLate(frames: number): void {
    for (const slots of [this.slots, this.nextSlots ?? []]) {
      let lateFrames = frames;
      for (const slot of slots) {
        slot.lateFrames = lateFrames;
        for (const row of slot.rows) row.setLate(lateFrames);
        if (!slot.isLeaving) lateFrames += slot.latencyFrames;
      }
    }
  }

  /** Nothing sounds that could make a step: all is as it is to be. */
  arrive(): void {
    if (this.nextSlots) this.takeOrder(false);
    for (let s = 0; s < this.slots.length; s++) this.slots[s]!.arrive();
    this.dropGone();
  }

  /** As new: nothing rings in any of them. */
  restart(): void {
    this.arrive();
    for (let s = 0; s < this.slots.length; s++) this.slots[s]!.restart();
  }

  hush(): void {
    for (const slot of this.slots) slot.hush();
  }

  /** Nothing rings in an effect. */
  get isAtRest(): boolean {
    return this.slots.every((slot) => slot.isAtRest);
  }

  /** As long as nothing goes in none of them has anything to do. */
  get isStill(): boolean {
    if (this.nextSlots) return false;
    for (let s = 0; s < this.slots.length; s++) if (!this.slots[s]!.isStill) return false;
    return true;
  }

  /** One of them hears others while nothing goes in. */
  get listens(): boolean {
    for (let s = 0; s < this.slots.length; s++) if (this.slots[s]!.listens) return true;
    return false;
  }

  /** Works out `count` frames of a bus from `from` on, within one control step. */
  process(bus: StereoBus, from: number, count: number, moment: Moment): void {
    let isAnyIn = false;
    for (let s = 0; s < this.slots.length; s++) {
      this.slots[s]!.process(bus, from, count, moment);
      isAnyIn ||= !this.slots[s]!.isOut;
    }
    this.dropGone();
    if (this.nextSlots && !isAnyIn) this.takeOrder(true);
  }

  private takeOrder(keepsSound: boolean): void {
    this.slots = this.nextSlots!;
    this.nextSlots = null;
    for (let s = 0; s < this.slots.length; s++) this.slots[s]!.enter(true, keepsSound);
  }

  dropGone(): void {
    dropWhere(this.slots, isGone);
  }
}

const latencyOf = (slot: RowSlot): number => slot.latencyFrames;
const runInOf = ({ effect, latencyFrames }: RowSlot): number => effect.runInFrames ?? latencyFrames;
const restOf = ({ effect, latencyFrames }: RowSlot): number => effect.restFrames + latencyFrames;
const isGone = (slot: RowSlot): boolean => slot.isLeaving && slot.isOut;

/** Takes items out in place: nothing may be allocated while sound runs. */
export function dropWhere<T>(items: T[], isToGo: (item: T) => boolean): void {
  let kept = 0;
  for (let i = 0; i < items.length; i++) if (!isToGo(items[i]!)) items[kept++] = items[i]!;
  items.length = kept;
}
