/** How a voice is to start, and the fades at the ends of its slice. */
import type { SongClock } from '../sequence/song-clock.ts';
import type { ZoneState } from '../zone-state.ts';
import type { Samples } from './alignment.ts';

/** Who started a voice. */
export type Origin = 'pattern' | 'key' | 'preview';

/** How a voice is to start. */
export interface VoiceStart {
  /** Of the event: its strength and level, as a factor. */
  gain: number;
  pan: number;
  tuneCents: number;
  reverse: boolean;
  /** 0..1, for what follows it beside the level. */
  velocity: number;
  /** MIDI note that plays it; that of the zone's root where no key does, -1 where it has none. */
  key: number;
  /** The pitch begins so far away, and arrives within so many output frames. */
  glideCents: number;
  glideFrames: number;
  /** What the chances of this hit are drawn from. */
  seed: number;
  /** Tells the song's time; null for what has none. */
  clock: SongClock | null;
  /** No fade at the slice's start, or end, because the neighbour goes on there. */
  joinsPrevious: boolean;
  joinsNext: boolean;
  /** Frames that it lasts longer (1) or shorter (-1) than its slice, so that it ends where the next begins. */
  joinFrames: number;
  origin: Origin;
  /** A key was pressed for it, by hand or by a strip that means a key. */
  isPressed: boolean;
  /** The key's press that holds the voice, or -1. */
  noteId: number;
  /** Presses that belong together, as those of a chord: they do not cut each other off. -1: it is alone. */
  pressId: number;
  /** When it is stopped, in ticks of its part's clock and as a frame; Infinity for never. */
  stopAtTicks: number;
  stopAtFrame: number;
  stopFadeFrames: number;
  /** Plays on beyond the slice's own end, where there is more. */
  playsRemainder: boolean;
  /** Of the output and the song, when it starts. */
  sampleRate: number;
  songTempoBpm: number;
  frame: number;
}

/** Fade-in of a slice that does not begin at a zero, in seconds: short enough not to soften an attack. */
const START_FADE_SECONDS = 0.0007;
/** A first sample below this (-48 dB) starts without a click. */
const SILENT_START = 10 ** (-48 / 20);
const MIN_REVERSE_FADE_FRAMES = 32;
/** The tail `fade` fades over this share of a slice. */
const TAIL_FADE_SHARE = 0.4;
const END_FADE_SHARE = 0.25;
/** A start of a slice as it is, neither louder nor softer. */
export function plainStart(): VoiceStart {
  return {
    gain: 1,
    pan: 0,
    tuneCents: 0,
    reverse: false,
    velocity: 1,
    key: -1,
    glideCents: 0,
    glideFrames: 0,
    seed: 0,
    clock: null,
    joinsPrevious: false,
    joinsNext: false,
    joinFrames: 0,
    origin: 'pattern',
    isPressed: false,
    noteId: -1,
    pressId: -1,
    stopAtTicks: Infinity,
    stopAtFrame: Infinity,
    stopFadeFrames: 1,
    playsRemainder: false,
    sampleRate: 44100,
    songTempoBpm: 120,
    frame: 0,
  };
}

/** Fade at the start, in output frames: 0 where the slice begins on a zero crossing or with the file. */
export function fadeInOf(
  { left, right, position }: Samples & { position: number },
  zone: ZoneState,
  start: VoiceStart,
): number {
  const first = Math.floor(position);
  const isLoud = Math.abs(left[first] ?? 0) > SILENT_START || Math.abs(right[first] ?? 0) > SILENT_START;
  const beginsWithFile = !start.reverse && first === 0 && zone.fragment.sliceStartFrame === 0;
  const fade = isLoud && !beginsWithFile ? Math.round(START_FADE_SECONDS * start.sampleRate) : 0;
  return start.reverse ? Math.max(fade, MIN_REVERSE_FADE_FRAMES) : fade;
}

/** Fade at the slice's own end, in output frames. @param bodyFrames how long the slice itself lasts */
export function fadeOutOf(zone: ZoneState, start: VoiceStart, bodyFrames: number): number {
  const { follow, tail } = zone.fragment;
  const fadesOut = follow === 'slices' && tail === 'fade' && zone.songRatio(start.songTempoBpm) > 1;
  const most = fadesOut ? bodyFrames * TAIL_FADE_SHARE : start.stopFadeFrames;
  return Math.round(Math.min(most, bodyFrames * (fadesOut ? 1 : END_FADE_SHARE)));
}
