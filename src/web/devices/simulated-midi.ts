/** A small MIDI keyboard that is not there: it plays a phrase, for trying things out and for tests. */
import type { MidiListener } from './midi.ts';

export const SIMULATED_ID = 'simulated';
export const SIMULATED_NAME = 'demo keyboard';
/** Number of the one controller that it has, a pedal; of those that MIDI 1.0 leaves undefined. */
export const SIMULATED_CONTROL = 20;

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
/** The last note is bent up and comes back, in so many steps. */
const BEND_STEPS = 8;

/** Plays the phrase once; gives a function that stops it and lets the last key go. */
export function playSimulatedPhrase(
  listener: MidiListener,
  startKey: number,
  onEnd: () => void = () => {},
): () => void {
  let step = 0;
  let sounding: number | null = null;
  const timers: ReturnType<typeof setTimeout>[] = [];
  const release = () => {
    if (sounding !== null) listener.noteOff(SIMULATED_ID, sounding);
    sounding = null;
    listener.control(SIMULATED_ID, 'bend', 0);
  };
  const bend = (ms: number) => {
    for (let i = 1; i <= BEND_STEPS; i++) {
      const value = Math.sin((Math.PI * i) / BEND_STEPS);
      timers.push(setTimeout(() => listener.control(SIMULATED_ID, 'bend', value), (ms * i) / (BEND_STEPS + 1)));
    }
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
    listener.noteOn(SIMULATED_ID, sounding, velocity);
    if (step === PHRASE.length) bend(ms);
    timers.push(setTimeout(next, ms));
  };
  next();
  return () => {
    timers.forEach(clearTimeout);
    release();
  };
}
