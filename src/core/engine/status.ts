/** What is told of the engine to those who show it. */
import type { Watched } from './mix/signal-watch.ts';
import type { HelperStatus } from './helpers/note-way.ts';
import type { ChannelState } from './mix/channel.ts';
import type { PartState } from './part-state.ts';
import type { SongState } from './song-state.ts';
import type { ZoneState } from './zone-state.ts';

/** The frame of the part's own source that a frame of a zone's samples stands for; a ringing tail stays at the end. */
export function shownFrame({ fragment, sound }: ZoneState, frame: number): number {
  if (!sound.isRendering) return frame;
  const { sliceStartFrame, sliceEndFrame } = fragment;
  const share = Math.min(1, (frame - sound.startFrame) / Math.max(1, sound.naturalEndFrame - sound.startFrame));
  return Math.round(sliceStartFrame + share * (sliceEndFrame - sliceStartFrame));
}

/** What is known of a part from outside. */
export interface PartStatus {
  partId: string;
  playing: string | null;
  waiting: string | null;
  /** Another way to sound waits for its turn. */
  awaitsSound: boolean;
  /** By its own tempo if it has one; along a running order from where what it plays was begun. */
  positionTicks: number;
  /** Loudest sample of its channel since the last look. */
  peak: number;
  /** Of what stands on the way to its keys and is on; left out where nothing does. */
  helpers?: readonly HelperStatus[];
}

/** What is known of the mix from outside, beside the parts. */
export interface MixStatus {
  /** Loudest samples since the last look, by channel; of parts see {@link PartStatus}. */
  peaks: [channelId: string, peak: number][];
  /** What effects tell of what they do: what is taken away, in dB, or how far a gate is open. */
  readings: EffectReading[];
  /** Effects that gave no sound and were silenced for a moment, since the last look. */
  troubled: string[];
  /** The last of the signal before and after the effect that is looked at; null when there is little new. */
  watched: Watched | null;
}

export interface EffectReading {
  id: string;
  /** See {@link Effect.reading}. */
  reading: number;
  /** The loudest that came in since the last look, in dB; of effects that press what is loud. */
  levelDb?: number;
  loudnessLufs?: number;
}

/** How the mix stands; what it tells begins anew. @param parts whose channels tell of themselves */
export function takeMixStatus(channels: readonly ChannelState[], parts: ReadonlySet<ChannelState>): MixStatus {
  const status: MixStatus = { peaks: [], readings: [], troubled: [], watched: null };
  for (const channel of channels) {
    if (!parts.has(channel)) {
      status.peaks.push([channel.id, channel.peak]);
      channel.peak = 0;
    }
    for (const slot of channel.effects.all) {
      const { reading, loudnessLufs } = slot.effect;
      if (reading !== undefined) {
        const levelDb = slot.effect.takeLevelDb?.();
        status.readings.push({
          id: slot.id,
          reading,
          ...(levelDb === undefined ? {} : { levelDb }),
          ...(loudnessLufs === undefined ? {} : { loudnessLufs }),
        });
      }
      if (slot.troubleCount > 0) status.troubled.push(slot.id);
      slot.troubleCount = 0;
    }
  }
  return status;
}

/** How a part stands; its peak begins anew. */
export function takeStatus(part: PartState, { playing, clock, frame }: SongState): PartStatus {
  const { peak } = part.channel;
  part.channel.peak = 0;
  return {
    partId: part.fragment.id,
    playing: part.cursor.pattern?.id ?? null,
    waiting: part.cursor.waitingId,
    awaitsSound: part.waiting.atTicks !== Infinity || part.changeTicks !== Infinity,
    positionTicks: playing ? part.clockOr(clock).ticksAt(frame) - part.cursor.anchorTicks : 0,
    peak,
    ...(part.way?.isThere ? { helpers: part.way.status } : {}),
  };
}
