/** A double as the renderer has it: how loud a hit and its double are, as they are struck. */
import { DOUBLE, DOUBLE_ROWS } from '../params/double-rows.ts';
import { OwnerValues } from './control/owner-values.ts';
import { MAX_SEGMENT_FRAMES } from './mix/channel.ts';
import type { StereoBus } from './mix/effects/effect.ts';
import { Way } from './mix/way.ts';
import type { DoubleFragment } from './plan/fragments.ts';

/** What a double knows of a zone. */
interface Doubled {
  double: unknown;
}

export class DoubleState<Zone extends Doubled = Doubled> {
  readonly owner: OwnerValues;
  /** What it sounds in by itself, and the way from there into its channel; null: it sounds with its part. */
  bus: { readonly left: Float32Array; readonly right: Float32Array } | null = null;
  private way: Way | null = null;
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

  /** Finds what it is heard through; it comes and goes with its part without a step. */
  lead(channelOf: (id: string) => StereoBus | undefined): void {
    const { channelId, isHeard } = this.fragment;
    const channel = channelId === null ? undefined : channelOf(channelId);
    if (!channel) {
      this.bus = this.way = null;
      return;
    }
    if (this.way?.toId !== channelId) {
      this.bus = { left: new Float32Array(MAX_SEGMENT_FRAMES), right: new Float32Array(MAX_SEGMENT_FRAMES) };
      this.way = new Way(channelId);
      this.way.aim(isHeard);
      this.way.arrive();
    }
    this.way!.to = channel;
    this.way!.aim(isHeard);
  }

  /** Brings what it gave of the next frames to where it is heard. */
  carry(count: number): void {
    const { bus, way } = this;
    if (!bus || !way?.to) return;
    way.carry(bus, 0, count, way.to, 0, false);
    bus.left.fill(0, 0, count);
    bus.right.fill(0, 0, count);
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
