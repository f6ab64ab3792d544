/** All hits of a recording that is there as a whole. */
import { mixForReading, type AudioData } from '../dsp/audio.ts';
import { quietStretch, readFloor, type Floor } from './floor.ts';
import { SUGGESTED_CLOSE_DB, SUGGESTED_OPEN_DB, TakeFinder, type FoundTake, type TakeSettings } from './take-finder.ts';
import { takeStart } from './take-start.ts';

/** The floor is read from so much of it. */
export const FLOOR_SECONDS = 0.4;
export const USUAL_PAUSE_MS = 60;

export interface Take {
  startFrame: number;
  endFrame: number;
  peakDb: number;
}

/** The lines that a floor suggests. */
export function suggestedSettings(floor: Floor): TakeSettings {
  return {
    openDb: floor.levelDb + SUGGESTED_OPEN_DB,
    closeDb: floor.levelDb + SUGGESTED_CLOSE_DB,
    leastPauseMs: USUAL_PAUSE_MS,
  };
}

/**
 * @param wanted lines other than those that the floor suggests
 * @throws RangeError when it is to close above where it opens
 */
export function findTakes(
  audio: AudioData,
  wanted: Partial<TakeSettings> = {},
): { floor: Floor; settings: TakeSettings; takes: Take[] } {
  const mono = mixForReading(audio);
  const { sampleRate } = audio;
  const floor = readFloor(quietStretch(mono, Math.round(FLOOR_SECONDS * sampleRate)));
  const settings = { ...suggestedSettings(floor), ...wanted };
  if (settings.closeDb > settings.openDb) {
    throw new RangeError(`it would close at ${settings.closeDb} dB, above where it opens (${settings.openDb} dB)`);
  }
  const found: FoundTake[] = [];
  const finder = new TakeFinder(sampleRate, floor, settings);
  finder.feed(mono, (take) => found.push(take));
  finder.end((take) => found.push(take));
  const starts = found.map(({ coarseFrame }, place) =>
    takeStart(mono, sampleRate, coarseFrame, floor, found[place - 1]?.ringsIntoNext ?? false),
  );
  const takes = found.map(({ endFrame, peakDb, ringsIntoNext }, place) => ({
    startFrame: starts[place]!,
    // What the next one was struck into ends where that begins.
    endFrame: ringsIntoNext ? (starts[place + 1] ?? endFrame) : endFrame,
    peakDb,
  }));
  return { floor, settings, takes };
}
