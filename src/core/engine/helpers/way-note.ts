/** A note on its way to the keys of a part, and who takes it. */

export interface WayNote {
  /** Names the press: letting go names the same. */
  noteId: number;
  /** Presses that belong together, as the notes of a chord: they do not cut each other off. */
  pressId: number;
  key: number;
  /** 0..1 */
  velocity: number;
  /** What is brought beside the strength: a factor, -1..1, cents, backwards. */
  gain: number;
  pan: number;
  cents: number;
  reverse: boolean;
  /** What chances are drawn from. */
  seed: number;
  /** Pressed by a strip of a pattern, and not by hand. */
  isOfPattern: boolean;
  isEcho: boolean;
  /** When it was pressed, by the part's clock. */
  ticks: number;
  /** Where what plays whole is cut, by the part's clock; Infinity: nowhere. */
  cutTicks: number;
}

export const plainNote = (): WayNote => ({
  noteId: -1,
  pressId: -1,
  key: -1,
  velocity: 1,
  gain: 1,
  pan: 0,
  cents: 0,
  reverse: false,
  seed: 0,
  isOfPattern: false,
  isEcho: false,
  ticks: 0,
  cutTicks: Infinity,
});

/** Written out: it runs in the audio thread. */
export function copyNote(from: WayNote, to: WayNote): void {
  to.noteId = from.noteId;
  to.pressId = from.pressId;
  to.key = from.key;
  to.velocity = from.velocity;
  to.gain = from.gain;
  to.pan = from.pan;
  to.cents = from.cents;
  to.reverse = from.reverse;
  to.seed = from.seed;
  to.isOfPattern = from.isOfPattern;
  to.isEcho = from.isEcho;
  to.ticks = from.ticks;
  to.cutTicks = from.cutTicks;
}

/** Where notes go next: another helper, or at last the keys. What it is given is its own only until it returns. */
export interface NoteSink {
  on(note: WayNote): void;
  off(noteId: number): void;
}

/** What helpers ask of the part that they stand before. */
export interface KeyGround {
  /** By the part's clock. */
  readonly clock: { ticksAt(frame: number): number; frameAt(ticks: number): number };
  readonly frame: number;
  readonly sampleRate: number;
  /** Keys that play a slice now: 1 each. */
  readonly filled: Uint8Array;
  /** 1: what lies there is a sound that follows its keys. */
  readonly follows: Uint8Array;
  /** Pitch class of the song's root; 0 where it is not said. */
  readonly rootClass: number;
  /** Finds out anew which keys are filled. */
  look(): void;
  /** A name for a press that no hand gives. */
  newNoteId(): number;
}
