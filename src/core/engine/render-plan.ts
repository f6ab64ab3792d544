/**
 * All that the renderer needs to play a project: immutable, free of ids where an index does, plain data that can be
 * posted to another thread. Compiled from the document by compile-plan.ts.
 */

import type { ClickSound } from './click.ts';

/** Samples of a source, shared and never changed. */
export interface PlanSource {
  id: string;
  sampleRate: number;
  channels: Float32Array[];
}

/** A level envelope in frames of the output. */
export interface PlanEnvelope {
  attackFrames: number;
  decayFrames: number;
  /** Level after the decay, 0..1. */
  sustain: number;
  releaseFrames: number;
}

/** A slice ready to be played. */
export interface PlanSlice {
  id: string;
  /** Index into the plan's sources: the part's own, or a rendering of the slice; -1 while the audio is not there. */
  sourceIndex: number;
  /** A rendering of the slice, with samples of its own. */
  isRendering: boolean;
  /** Where the slice lies in the part's own source, for display. */
  shownStart: number;
  shownEnd: number;
  /** Range in the source, half-open. */
  startFrame: number;
  endFrame: number;
  /** Where the slice itself ends; from there to `endFrame` its tail rings on, if an event is longer than the slice. */
  naturalEndFrame: number;
  /** What comes after `naturalEndFrame` fills no gap: it sounds on under the next event. */
  hasRest: boolean;
  gainLeft: number;
  gainRight: number;
  /** Source frames an output frame. */
  increment: number;
  reverse: boolean;
  /** Stops when its key is let go. */
  held: boolean;
  envelope: PlanEnvelope;
  /** Fade at the slice's own end, in output frames. */
  endFadeFrames: number;
  /** Fade at the start, in output frames: 0 where the slice begins on a zero crossing or with the file. */
  startFadeFrames: number;
}

/** One start of a slice in a pattern; repeats are already spread out. */
export interface PlanEvent {
  positionTicks: number;
  lengthTicks: number;
  sliceIndex: number;
  gain: number;
  reverse: boolean;
  /** The next event goes on exactly where this one ends, in source and in time: no fade between them. */
  joinsNext: boolean;
  /** The event before ends exactly where this one starts. */
  joinsPrevious: boolean;
  /** Goes on over the next event, which is to ring beside it. */
  ringsOut: boolean;
}

export interface PlanPattern {
  id: string;
  lengthTicks: number;
  /** By position. */
  events: PlanEvent[];
}

export interface PlanPart {
  id: string;
  gainLeft: number;
  gainRight: number;
  oneAtATime: boolean;
  /** Fade of a slice that is cut off, in output frames. */
  stopFadeFrames: number;
  slices: PlanSlice[];
  /** Slice index for each MIDI note, -1 for none: 128 entries. */
  keys: number[];
  patterns: PlanPattern[];
  activePatternId: string;
  /** The transposition that is wanted; a change of it waits for a bar line when asked. */
  transposeCents: number;
  tuneAtBar: boolean;
  /** What of it is done while playing, as a factor of the increments; the rest is in the samples. */
  tuneRatio: number;
  /** The part's own tempo when it does not follow the song's; null when it does. */
  ownTempoBpm: number | null;
  /** A slice's tail may ring into the next round of its pattern. */
  ringOver: boolean;
  /** What sounds goes over to a new rendering of the same slice at the same share of its length. */
  keepsPlace: boolean;
}

export interface RenderPlan {
  sampleRate: number;
  tempoBpm: number;
  beatsPerBar: number;
  clickEnabled: boolean;
  clickGain: number;
  clickSound: ClickSound;
  sources: PlanSource[];
  parts: PlanPart[];
}

/** A plan that plays nothing. */
export function emptyPlan(sampleRate: number): RenderPlan {
  return {
    sampleRate,
    tempoBpm: 120,
    beatsPerBar: 4,
    clickEnabled: false,
    clickGain: 0,
    clickSound: 'tick',
    sources: [],
    parts: [],
  };
}
