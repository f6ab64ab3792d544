/** What sounded lately: the engine's log, kept for a while, so that what was just played can be kept. Not reactive. */
import { defineStore } from 'pinia';
import type { PlayedNote } from '#core/engine/sequence/notes.ts';
import { engine } from '../audio/services.ts';

/** The oldest go first. */
const MAX_NOTES = 20_000;

export const usePlayed = defineStore('played', () => {
  let notes: PlayedNote[] = [];

  engine.onStatus(({ played }) => {
    if (played.length === 0) return;
    notes.push(...played);
    if (notes.length > MAX_NOTES) notes = notes.slice(-MAX_NOTES);
  });

  /** The notes of a part from a frame of the engine on, in their order. */
  function since(frame: number, partId: string): PlayedNote[] {
    return notes.filter((note) => note.frame >= frame && note.partId === partId);
  }

  return { since };
});
