/** A part played into a sound of its own: what is rendered for it, and how that is cut and read. */
import { MAX_BARS } from '../document/limits.ts';
import { newChannel } from '../document/defaults.ts';
import type { Channel, Loop, Part, ProjectDocument } from '../document/schema.ts';
import { withValues } from '../params/row.ts';
import { CHANNEL_ROWS } from '../params/tables.ts';
import { timedTicks } from '../strips/timing.ts';
import { framesPerTick, TICKS_PER_BEAT } from '../units/time.ts';
import { mainChannel } from './channels.ts';
import { partTempoBpm } from './following.ts';
import { partTiming } from './loops.ts';
import { eventsOf, patternLengthTicks } from './patterns.ts';
import { partValues, songValues } from './values.ts';

export interface PrintWish {
  /** Through its own chain, at its level; or as it comes into that. */
  withChain: boolean;
  /** What chance and rounds make of it is printed so many times. */
  rounds: number;
}

/** Hits that lie closer are one slice: a flam is cut once. */
const LEAST_APART_SECONDS = 0.015;
const MOST_BEATS_PER_BAR = 16;

/** Where all else is led while a part is printed: its effects may listen to it, and nobody hears it. */
const NOWHERE = 'printed-nowhere';

/**
 * The document whose bounce is the print: the part alone, through its channel or past it, and nothing behind that: what it
 * is sent to, and the chain of the mix, come to what was printed as they came to the part.
 */
export function printedDocument(document: ProjectDocument, part: Part, { withChain }: PrintWish): ProjectDocument {
  const { effects } = document;
  const main = mainChannel(document);
  const own = document.channels[part.channelId]!;
  const heard = withChain
    ? { ...own, values: withValues(CHANNEL_ROWS, own.values, { muted: false, soloed: false }) }
    : { ...own, values: {}, effectOrder: [] };
  // A double that has a bus of its own is a part of what is heard.
  const buses = new Set((part.doubles ?? []).map(({ channelId }) => channelId));
  const others = Object.values(document.channels).map((channel): Channel => {
    const values = withValues(CHANNEL_ROWS, channel.values, { soloed: false });
    return { ...channel, values, outputId: buses.has(channel.id) ? null : NOWHERE };
  });
  const nowhere: Channel = { ...newChannel(NOWHERE, 'bus'), values: { muted: true } };
  const channels = {
    ...Object.fromEntries(others.map((channel) => [channel.id, channel])),
    [nowhere.id]: nowhere,
    [own.id]: { ...heard, outputId: null },
    [main.id]: { ...main, values: {}, effectOrder: [] },
  };
  const sends = Object.fromEntries(
    Object.entries(document.sends).filter(([, { fromChannelId }]) => fromChannelId !== own.id),
  );
  // What it listens to has to be played; nothing else.
  const listens = withChain && own.effectOrder.some((id) => effects[id]!.sideChannelId !== null);
  return { ...document, partOrder: listens ? document.partOrder : [part.id], channels, sends };
}

/** How long the print is without its tail: in ticks of the song, for the bounce, and in frames. */
export function printedLength(
  document: ProjectDocument,
  part: Part,
  { rounds }: PrintWish,
  sampleRate: number,
): { lengthTicks: number; frames: number } {
  const ticks = patternLengthTicks(document, part.activePatternId) * rounds;
  const frames = ticks * framesPerTick(partTempoBpm(document, part), sampleRate);
  return {
    lengthTicks: frames / framesPerTick(songValues(document).tempoBpm, sampleRate),
    frames: Math.round(frames),
  };
}

/** Where its slices begin: where something is struck as it is heard, the very beginning among them. */
export function printedStarts(document: ProjectDocument, part: Part, wish: PrintWish, sampleRate: number): number[] {
  const { frames } = printedLength(document, part, wish, sampleRate);
  const roundTicks = patternLengthTicks(document, part.activePatternId);
  const perTick = framesPerTick(partTempoBpm(document, part), sampleRate);
  const timing = partTiming(document, part);
  const { startOffsetTicks } = partValues(part);
  const heard = eventsOf(document, part.activePatternId).map(
    ({ positionTicks }) => timedTicks(positionTicks, timing, roundTicks) + startOffsetTicks,
  );
  const all = Array.from({ length: wish.rounds }, (_, round) => heard.map((ticks) => ticks + round * roundTicks));
  const starts = [0, ...all.flat().map((ticks) => Math.round(ticks * perTick))]
    .filter((frame) => frame >= 0 && frame < frames)
    .sort((a, b) => a - b);
  const apart = LEAST_APART_SECONDS * sampleRate;
  return starts.filter((frame, index) => index === 0 || frame - starts[index - 1]! >= apart);
}

/** Its reading as a loop; null where it is no whole number of beats: a sound it is all the same. */
export function printedLoop(document: ProjectDocument, part: Part, wish: PrintWish, sampleRate: number): Loop | null {
  const { frames } = printedLength(document, part, wish, sampleRate);
  const beats = (patternLengthTicks(document, part.activePatternId) * wish.rounds) / TICKS_PER_BEAT;
  const { beatsPerBar } = songValues(document);
  const range = { startFrame: 0, endFrame: frames };
  const bars = beats / beatsPerBar;
  if (Number.isInteger(bars) && bars <= MAX_BARS) return { ...range, bars, beatsPerBar };
  if (beats >= 1 && beats <= MOST_BEATS_PER_BAR && Number.isInteger(2 * beats))
    return { ...range, bars: 1, beatsPerBar: beats };
  return Number.isInteger(beats) && beats <= MAX_BARS ? { ...range, bars: beats, beatsPerBar: 1 } : null;
}
