/**
 * What was struck on the keys of the chosen part: how hard, for the picture of the strengths; and the sound of a key that
 * is played is chosen, so that it is seen which it is.
 */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { engine } from '../../audio/services.ts';
import { useSession } from '../document/session.ts';

export interface RecentPress {
  key: number;
  /** 1..127 */
  step: number;
}

export interface StruckByHelper extends RecentPress {
  isEcho: boolean;
}

/** As many as are told apart by eye. */
const KEPT = 96;
const STRUCK_KEPT = 8;
/** Nothing has been struck for so long: nothing runs. */
const RUNS_MS = 1500;

export const useRecentPresses = defineStore('recent-presses', () => {
  const session = useSession();
  const choosesSounds = useStorage('yappa.keys-choose', true);
  /** The latest last. Not reactive: read when drawing. */
  const hits: RecentPress[] = [];
  let partId: string | null = null;
  /** When the latest was made, as `performance.now()` tells it. */
  let lastPressAt = 0;
  /** What stands on the way has struck lately, the latest last. Not reactive either. */
  const struck: StruckByHelper[] = [];
  let struckCount = 0;
  let lastStruckAt = -Infinity;

  engine.onStatus((status) => {
    if (partId !== session.partId) {
      partId = session.partId;
      hits.length = struck.length = 0;
    }
    let latest: string | null = null;
    for (const note of status.played) {
      if (note.kind !== 'on' || note.partId !== partId) continue;
      if (note.origin === 'helper') {
        struck.push({ key: note.key, step: Math.max(1, Math.round(note.velocity * 127)), isEcho: note.isEcho });
        if (!note.isEcho) struckCount++;
        lastStruckAt = performance.now();
      }
      if (note.origin !== 'key') continue;
      hits.push({ key: note.key, step: Math.max(1, Math.round(note.velocity * 127)) });
      lastPressAt = performance.now();
      if (note.zoneId) latest = note.zoneId;
    }
    if (hits.length > KEPT) hits.splice(0, hits.length - KEPT);
    if (struck.length > STRUCK_KEPT) struck.splice(0, struck.length - STRUCK_KEPT);
    // Somebody who works on strips keeps them chosen.
    if (!latest || !choosesSounds.value || session.eventIds.length > 0) return;
    const { selectedZones } = session;
    if (selectedZones.length > 1 || selectedZones[0]?.zone.id === latest) return;
    session.selectZones([latest], false, true);
  });

  return {
    hits,
    struck,
    /** How many of them were no echoes, ever. */
    struckCount: () => struckCount,
    isRunning: () => performance.now() - lastStruckAt < RUNS_MS,
    choosesSounds,
    lastPressAt: () => lastPressAt,
  };
});
