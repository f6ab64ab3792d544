/** What sounded lately: the engine's log, kept for a while, so that what was just played can be kept. Not reactive. */
import { defineStore } from 'pinia';
import { pressesOf, type PlayedPresses, type PressTiming } from '#core/patterns/presses.ts';
import type { PlayedNote } from '#core/strips/played-note.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { engine } from '../../audio/services.ts';

/** The oldest go first. */
const MAX_NOTES = 20_000;

export const usePlayed = defineStore('played', () => {
  let notes: PlayedNote[] = [];

  engine.onStatus(({ played }) => {
    if (played.length === 0) return;
    notes.push(...played);
    if (notes.length > MAX_NOTES) notes = notes.slice(-MAX_NOTES);
  });

  /** See {@link pressesOf}. */
  function ofPart(
    partId: string,
    timing: Omit<PressTiming, 'sampleRate'>,
    by: 'key' | 'helper' = 'key',
  ): PlayedPresses {
    return pressesOf(notes, partId, { ...timing, sampleRate: ENGINE_SAMPLE_RATE }, by);
  }

  return { ofPart };
});
