/** The channels in an order in which each comes after all that it hears: what sends to it, and what its effects listen to. */
import type { ChannelFragment } from '../plan/fragments.ts';
import { ChannelState } from './channel.ts';

export class MixGraph {
  private readonly channels = new Map<string, ChannelState>();
  private order: ChannelState[] = [];

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

  /** Kahn's algorithm (CACM 5, 1962); what lies in a circle comes last and hears what was before. */
  private connect(): void {
    const heardBy = new Map<ChannelState, ChannelState[]>();
    const waitsFor = new Map<ChannelState, number>();
    for (const channel of this.channels.values()) waitsFor.set(channel, 0);
    const link = (from: ChannelState | undefined, to: ChannelState | undefined) => {
      if (!from || !to) return;
      heardBy.set(from, [...(heardBy.get(from) ?? []), to]);
      waitsFor.set(to, waitsFor.get(to)! + 1);
    };
    for (const channel of this.channels.values()) {
      for (const send of channel.sends) {
        send.to = this.channels.get(send.channelId) ?? null;
        link(channel, send.to ?? undefined);
      }
      for (const slot of channel.allEffects) {
        const side = this.channels.get(slot.sideChannelId ?? '');
        slot.side = side ?? null;
        link(side, channel);
      }
    }
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
    const circle = [...this.channels.values()].filter((channel) => !order.includes(channel));
    this.order = [...order, ...circle];
  }

  mixInto(outLeft: Float32Array, outRight: Float32Array, offset: number, count: number, frame: number): void {
    for (let c = 0; c < this.order.length; c++) this.order[c]!.mixInto(outLeft, outRight, offset, count, frame);
  }
}
