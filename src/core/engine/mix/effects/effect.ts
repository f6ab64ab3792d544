/** What every effect is: a new one is a file beside this, a row in index.ts, and its settings in params/effects.ts. */

import type { EffectFragment } from '../../plan/fragments.ts';
import type { Hits } from '../hits.ts';

/** Both channels of a signal; the same length. */
export interface StereoBus {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/** When it is. */
export interface Moment {
  /** Absolute frame of the first that is worked out. */
  frame: number;
  sampleRate: number;
  tempoBpm: number;
  /** Of the song; where it stands while it does not run. */
  positionTicks: number;
  isRunning: boolean;
  /** Frames since the song began; where it stands, since the engine did. What runs free hangs on it. */
  songFrame: number;
  /** A control step begins here. */
  isStep: boolean;
  /** Root of the song, 0 (C) to 11; -1 where none is said. */
  rootNote: number;
  /** What was struck in the channel that is listened to, or in this one; and how much later its sound is here. */
  hits: Hits | null;
  lateFrames: number;
}

/**
 * An effect only processes: its place in the channel (see slot.ts) switches it, mixes it with the dry sound, smooths and
 * moves its settings, and lets it sleep. Laws, checked for every effect by effect-suite.test.ts: silence in gives silence
 * out; nothing is allocated in `process`; after `reset` it is as new; what comes later than it went in is told.
 */
export interface Effect {
  /** By how many frames the signal comes out later. */
  readonly latencyFrames: number;
  /** For so long it is fed before it is let in while something sounds; where it does not say, for its latency. */
  readonly runInFrames?: number;
  /** After so many frames of silence going in and coming out, nothing more will come out. */
  readonly restFrames: number;
  /** It never rests, for it listens to others, but makes nothing of silence. */
  readonly isPassive?: boolean;
  /** What its picture shows of it as it runs: what a compressor takes away, in dB; how far a gate is open, 0..1. */
  readonly reading?: number;
  /** The loudest that came in since it was last asked, in dB: what its picture draws under what is taken away. */
  takeLevelDb?(): number;
  /** How loud what it gives is, in LUFS. */
  readonly loudnessLufs?: number;
  /** Effects that it holds: they come, go and change places in it as in a channel. */
  takePaths?(paths: readonly (readonly EffectFragment[])[]): void;
  /** Its settings from here on, in the order of the kind's rows: smooth already, of one control step. */
  set(values: Float64Array): void;
  /**
   * Changes the first `frameCount` frames of a bus in place: never more than a control step, which they lie within.
   * @param side another channel's signal to listen to, or null
   */
  process(bus: StereoBus, frameCount: number, moment: Moment, side: StereoBus | null): void;
  /** Forgets all sound. */
  reset(): void;
}
