/**
 * The channels in an order in which each comes after all that it hears: what is led and sent to it, and what its effects
 * listen to. What takes longer is waited for: all that meets in a channel is of one moment.
 */
import type { TargetKind } from '../../params/modulators.ts';
import type { OwnerValues } from '../control/owner-values.ts';
import type { ChannelFragment } from '../plan/fragments.ts';
import { ChannelState } from './channel.ts';
import type { Moment, StereoBus } from './effects/effect.ts';
import { SignalWatch, type Watched } from './signal-watch.ts';

export class MixGraph {
  private readonly channels = new Map<string, ChannelState>();
  private order: ChannelState[] = [];
  private watch: SignalWatch | null = null;

  constructor(private readonly sampleRate: number) {}

  get(id: string): ChannelState | undefined {
    return this.channels.get(id);
  }

  all(): readonly ChannelState[] {
    return this.order;
  }

  /** Takes new or changed channels; those that are gone are taken out. */
  update(changed: readonly ChannelFragment[], gone: readonly string[]): void {
    for (const fragment of changed) {
      const known = this.channels.get(fragment.id);
      if (known) known.take(fragment);
      else this.channels.set(fragment.id, new ChannelState(fragment, this.sampleRate));
    }
    for (const id of gone) this.channels.delete(id);
    this.connect();
  }

  /** The settings of a channel, an effect or a send. */
  ownerOf(kind: TargetKind, id: string): OwnerValues | null {
    if (kind === 'channel') return this.channels.get(id)?.owner ?? null;
    for (const channel of this.channels.values()) {
      const owner =
        kind === 'effect'
          ? channel.effects.slotOf(id)?.owner
          : channel.sends.find((way) => way.id === id && !way.isLeaving)?.owner;
      if (owner) return owner;
    }
    return null;
  }

  /** What goes into an effect and comes out of it is looked at; null: of none. */
  watchEffect(id: string | null): void {
    this.watch = id === null ? null : new SignalWatch(id);
    this.findWatched();
  }

  private findWatched(): void {
    for (const channel of this.channels.values()) {
      for (const slot of channel.effects.all) slot.watch = slot.id === this.watch?.effectId ? this.watch : null;
    }
  }

  /** What was seen of it since; null when there is little new. */
  takeWatched(): Watched | null {
    return this.watch?.take() ?? null;
  }

  /** What a channel is led on with is kept for itself; see {@link ChannelState.stem}. */
  keepStem(id: string, stem: StereoBus | null): void {
    const channel = this.channels.get(id);
    if (channel) channel.stem = stem;
  }

  /** An effect of a channel listens to what another one gives. */
  get hasListeners(): boolean {
    return this.order.some((channel) => channel.effects.all.some(({ side }) => side !== null));
  }

  private connect(): void {
    const heardBy = new Map<ChannelState, ChannelState[]>();
    const link = (from: ChannelState | undefined, to: ChannelState) => {
      if (from) heardBy.set(from, [...(heardBy.get(from) ?? []), to]);
    };
    for (const channel of this.channels.values()) {
      for (const way of channel.ways) {
        way.to = this.channels.get(way.toId ?? '') ?? null;
        if (way.to) link(channel, way.to as ChannelState);
      }
      for (const slot of channel.effects.all) {
        const side = this.channels.get(slot.sideChannelId ?? '');
        slot.side = side ?? null;
        slot.hits = (side ?? channel).hits;
        link(side, channel);
      }
    }
    this.findWatched();
    this.order = this.ordered(heardBy);
    this.meet();
  }

  /** Kahn's algorithm (CACM 5, 1962); what lies in a circle comes last and hears what was before. */
  private ordered(heardBy: ReadonlyMap<ChannelState, readonly ChannelState[]>): ChannelState[] {
    const waitsFor = new Map<ChannelState, number>([...this.channels.values()].map((channel) => [channel, 0]));
    for (const to of [...heardBy.values()].flat()) waitsFor.set(to, waitsFor.get(to)! + 1);
    const ready = [...waitsFor].filter(([, count]) => count === 0).map(([channel]) => channel);
    const order: ChannelState[] = [];
    for (let channel = ready.shift(); channel; channel = ready.shift()) {
      order.push(channel);
      for (const other of heardBy.get(channel) ?? []) {
        const left = waitsFor.get(other)! - 1;
        waitsFor.set(other, left);
        if (left === 0) ready.push(other);
      }
    }
    return [...order, ...[...this.channels.values()].filter((channel) => !order.includes(channel))];
  }

  /** Lets what comes early into a channel wait for what comes latest. */
  private meet(): void {
    const arrives = new Map<StereoBus | null, number>();
    const given = (channel: ChannelState) => (arrives.get(channel) ?? 0) + channel.effects.latencyFrames;
    for (const channel of this.order) {
      for (const { to } of channel.ways) arrives.set(to, Math.max(arrives.get(to) ?? 0, given(channel)));
    }
    for (const channel of this.order) {
      channel.effects.setLate(arrives.get(channel) ?? 0);
      for (const way of channel.ways) way.wait((arrives.get(way.to) ?? 0) - given(channel), channel.isQuiet);
    }
  }

  /** By how many frames what comes out is later than what was played. */
  get latencyFrames(): number {
    let latest = 0;
    const arrives = new Map<StereoBus, number>();
    for (const channel of this.order) {
      const given = (arrives.get(channel) ?? 0) + channel.effects.latencyFrames;
      latest = Math.max(latest, given);
      for (const { to } of channel.ways) if (to) arrives.set(to, Math.max(arrives.get(to) ?? 0, given));
    }
    return latest;
  }

  /** What rings in effects falls silent. */
  hush(): void {
    for (const channel of this.order) channel.effects.hush();
  }

  /** Nothing rings in an effect. */
  get isAtRest(): boolean {
    return this.order.every((channel) => channel.effects.isAtRest);
  }

  /** @param out where what comes out is added @param gridFrame a frame on which a control step begins */
  mixInto(out: StereoBus, offset: number, count: number, moment: Moment, gridFrame: number): void {
    for (let c = 0; c < this.order.length; c++) this.order[c]!.mixInto(out, offset, count, moment, gridFrame);
  }
}
