/** Presses of keys out of the engine's log of what sounded. */
import type { PlayedNote } from '../strips/played-note.ts';
import type { PlayedPress } from './played.ts';

/** A rest so long parts what is played while the song stands. */
const REST_SECONDS = 3;

export interface PressTiming {
  /** Tells the time of presses without a song position. */
  ticksPerFrame: number;
  /** Of a part with a tempo of its own: its ticks for one of the song; else 1. */
  ticksPerSongTick: number;
  sampleRate: number;
}

export interface PlayedPresses {
  /** They came while the song ran, and are told by its position. */
  withSong: boolean;
  presses: PlayedPress[];
}

/**
 * The presses of a part's keys that sounded, by hand or by its helpers, in their order: all that came with the song if the last one did, else those
 * of the last go without it.
 */
export function pressesOf(
  notes: readonly PlayedNote[],
  partId: string,
  { ticksPerFrame, ticksPerSongTick, sampleRate }: PressTiming,
  by: 'key' | 'helper' = 'key',
): PlayedPresses {
  const ofKeys = notes.filter((note) => note.partId === partId && note.origin === by);
  let ons = ofKeys.filter(({ kind, zoneId }) => kind === 'on' && zoneId !== '');
  const withSong = (ons.at(-1)?.songTicks ?? null) !== null;
  ons = ons.filter(({ songTicks }) => (songTicks !== null) === withSong);
  if (!withSong) {
    const rest = ons.findLastIndex(({ frame }, at) => at > 0 && frame - ons[at - 1]!.frame > REST_SECONDS * sampleRate);
    ons = ons.slice(Math.max(0, rest));
  }
  const firstFrame = ons[0]?.frame ?? 0;
  const ticksOf = ({ songTicks, frame }: PlayedNote) =>
    songTicks === null ? (frame - firstFrame) * ticksPerFrame : songTicks * ticksPerSongTick;
  const offById = new Map(ofKeys.filter(({ kind }) => kind === 'off').map((note) => [note.noteId, note]));
  const presses = ons.map((on): PlayedPress => {
    const off = offById.get(on.noteId);
    const isHeard = off && off.frame >= on.frame && (off.songTicks !== null) === withSong;
    return {
      zoneId: on.zoneId,
      key: on.key,
      onTicks: ticksOf(on),
      offTicks: isHeard ? ticksOf(off) : null,
      velocity: on.velocity,
      ...(by === 'helper' ? { cents: on.cents, lengthTicks: on.lengthTicks } : {}),
    };
  });
  return { withSong, presses };
}
