/** A double as the renderer has it: how loud a hit and its double are, as they are struck. */
import { DOUBLE, DOUBLE_ROWS } from '../params/double-rows.ts';
import { OwnerValues } from './control/owner-values.ts';
import type { DoubleFragment } from './plan/fragments.ts';

/** What a double knows of a zone. */
interface Doubled {
  double: unknown;
}

export class DoubleState<Zone extends Doubled = Doubled> {
  readonly owner: OwnerValues;
  /** What sounds under the hits; null where it is not there. */
  sound: Zone | null = null;
  private fragment: DoubleFragment;
  private readonly levelOf = new Map<string, number>();

  constructor(fragment: DoubleFragment, sampleRate: number) {
    this.owner = new OwnerValues(DOUBLE_ROWS, fragment.values, sampleRate);
    this.fragment = fragment;
    this.take(fragment);
  }

  take(fragment: DoubleFragment): void {
    this.fragment = fragment;
    this.owner.take(fragment.values);
    this.levelOf.clear();
    fragment.zoneIds.forEach((zoneId, place) => this.levelOf.set(zoneId, fragment.levels[place]!));
  }

  /** Finds its sound, and lets its hits know of it. */
  bind(zones: ReadonlyMap<string, Zone>): void {
    this.sound = zones.get(this.fragment.soundId) ?? null;
    for (const zoneId of this.fragment.zoneIds) {
      const zone = zones.get(zoneId);
      if (zone) zone.double = this;
    }
  }

  private get blend(): number {
    this.owner.fold();
    return this.sound ? this.owner.now[DOUBLE.blend]! : 0;
  }

  /** Factor of the hit itself: of equal power with {@link soundGain}, for sounds that have nothing in common. */
  get hitGain(): number {
    return Math.cos((this.blend * Math.PI) / 2);
  }

  /** Factor of the double, the hit's own level apart. */
  get soundGain(): number {
    return Math.sin((this.blend * Math.PI) / 2);
  }

  /** How strong the double of a hit is: as strong as that is in the loop, as far as it follows it; 0..1. */
  strengthOf(zoneId: string): number {
    const level = this.levelOf.get(zoneId) ?? 1;
    return 1 - this.owner.now[DOUBLE.follow]! * (1 - level);
  }
}
