/** A small MIDI keyboard that is not there: it plays a phrase, for trying things out and for tests. */

export interface MidiListener {
  /** `timeStamp`: when, as `performance.now()` tells it; now when left out. */
  noteOn(note: number, velocity: number, timeStamp?: number): void;
  noteOff(note: number, timeStamp?: number): void;
}

/** Steps of the phrase: semitones above the start key, velocity 0..1, length in milliseconds. */
const PHRASE: readonly [offset: number, velocity: number, ms: number][] = [
  [0, 1, 220],
  [2, 0.7, 220],
  [4, 0.9, 220],
  [1, 0.5, 110],
  [1, 0.6, 110],
  [5, 1, 220],
  [3, 0.8, 220],
  [0, 1, 440],
];

/** Plays the phrase once; gives a function that stops it and lets the last key go. */
export function playSimulatedPhrase(
  listener: MidiListener,
  startKey: number,
  onEnd: () => void = () => {},
): () => void {
  let step = 0;
  let sounding: number | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const release = () => {
    if (sounding !== null) listener.noteOff(sounding);
    sounding = null;
  };
  const next = () => {
    release();
    const entry = PHRASE[step++];
    if (!entry) {
      onEnd();
      return;
    }
    const [offset, velocity, ms] = entry;
    sounding = Math.min(127, startKey + offset);
    listener.noteOn(sounding, velocity);
    timer = setTimeout(next, ms);
  };
  next();
  return () => {
    clearTimeout(timer);
    release();
  };
}
