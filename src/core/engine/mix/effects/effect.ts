/** What every effect is: a new one is a file beside this, a row in index.ts, and its settings in params/effects.ts. */

/** Both channels of a signal; the same length. */
export interface StereoBus {
  readonly left: Float32Array;
  readonly right: Float32Array;
}

/**
 * Laws, checked for every effect by effect-suite.test.ts: silence in gives silence out; nothing is allocated in `process`;
 * the size of the blocks changes nothing; after `reset` it is as new; what comes later than it went in is told.
 */
export interface Effect {
  /** By how many frames the signal comes out later. */
  readonly latencyFrames: number;
  /** Puts one setting, by its place in the kind's rows; it is reached without a noise. */
  setValue(slot: number, value: number): void;
  /**
   * Changes `count` frames of a bus in place, from its beginning.
   * @param frame absolute frame of the first
   * @param side another channel's signal to listen to, or null
   */
  process(bus: StereoBus, count: number, frame: number, side: StereoBus | null): void;
  /** Forgets all sound. */
  reset(): void;
}
