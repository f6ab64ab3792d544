/** A small MIDI keyboard that is not there: it plays a phrase, for trying things out and for tests. */
import { BEND_MIDDLE, type MidiMessage } from '#core/midi/messages.ts';

export const SIMULATED_ID = 'simulated';
export const SIMULATED_NAME = 'demo keyboard';
/** Number of the one controller that it has, a pedal; of those that MIDI 1.0 leaves undefined. */
export const SIMULATED_CONTROL = 20;

/** Steps of the phrase: semitones above the start key, velocity 0..127, length in milliseconds. */
const PHRASE: readonly [offset: number, velocity: number, ms: number][] = [
  [0, 127, 220],
  [2, 89, 220],
  [4, 114, 220],
  [1, 64, 110],
  [1, 76, 110],
  [5, 127, 220],
  [3, 102, 220],
  [0, 127, 440],
];
/** The last note is bent up and comes back, in so many steps. */
const BEND_STEPS = 8;

/** Plays the phrase once; gives a function that stops it and lets the last key go. */
export function playSimulatedPhrase(
  send: (message: MidiMessage) => void,
  startKey: number,
  onEnd: () => void = () => {},
): () => void {
  let step = 0;
  let sounding: number | null = null;
  const timers: ReturnType<typeof setTimeout>[] = [];
  const bendTo = (share: number) =>
    send({ kind: 'bend', channel: 0, value: Math.round(BEND_MIDDLE + share * (BEND_MIDDLE - 1)) });
  const release = () => {
    if (sounding !== null) send({ kind: 'note-off', channel: 0, key: sounding, velocity: 64 });
    sounding = null;
    bendTo(0);
  };
  const bend = (ms: number) => {
    for (let i = 1; i <= BEND_STEPS; i++) {
      timers.push(setTimeout(() => bendTo(Math.sin((Math.PI * i) / BEND_STEPS)), (ms * i) / (BEND_STEPS + 1)));
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
    send({ kind: 'note-on', channel: 0, key: sounding, velocity });
    if (step === PHRASE.length) bend(ms);
    timers.push(setTimeout(next, ms));
  };
  next();
  return () => {
    timers.forEach(clearTimeout);
    release();
  };
}
