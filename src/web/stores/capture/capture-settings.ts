/** How is captured: kept by the browser. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';

/** Where takes fall. */
export type GoesTo = 'key' | 'layer' | 'turn';
/** Hits, each by itself; all of it as one; or so many bars in time with the song. */
export type Manner = 'hits' | 'whole' | 'bars';

export interface CaptureChoices {
  openDb: number | null;
  closeDb: number | null;
  leastPauseMs: number;
  preRollMs: number;
  isStereo: boolean;
  isLevelled: boolean;
  goesTo: GoesTo;
  manner: Manner;
  /** Heard as they fall. */
  isHeard: boolean;
  /** In time: how many bars, and how long sound takes to come in again that went out. */
  bars: number;
  latencyMs: number;
}
const USUAL: CaptureChoices = {
  openDb: null,
  closeDb: null,
  leastPauseMs: 140,
  preRollMs: 12,
  isStereo: false,
  isLevelled: false,
  goesTo: 'key',
  manner: 'hits',
  isHeard: false,
  bars: 4,
  latencyMs: 0,
};

export const useCaptureSettings = defineStore('capture-settings', () => {
  const kept = useStorage<CaptureChoices>('yappa.capture', { ...USUAL }, undefined, { mergeDefaults: true });
  return { kept };
});
