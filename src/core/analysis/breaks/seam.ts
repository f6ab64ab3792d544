/** How seamless a loop is: what sounds after its end against its own start, and how much is cut off at its end. */
import { measureBandEnergies, type BandEnergies } from '../band-energies.ts';

/** Compared over so long, in steps of so many hops of about 1 ms. */
const SEEN_SECONDS = 0.5;
const STEP_HOPS = 10;
/** Levels this far below the loudest are silence, in dB. */
const RANGE_DB = 40;
/** So far apart on average two courses have nothing in common, in dB. */
const STRANGE_DB = 14;
/** What ends so far below its loudest is cut without a click, in dB. */
const QUIET_END_DB = 36;
const END_SECONDS = 0.005;
const LONGEST_FADE_SECONDS = 0.03;

export interface Seam {
  /** 0 (another sound) to 1 (the same goes on). */
  seamless: number;
  /** A fade so long at the end hides what is cut off, in ms; 0 where none is needed. */
  fadeMs: number;
  /** Levels of its start and of what comes after its end, 0..1, in steps of 10 ms. */
  start: number[];
  after: number[];
}

/** The levels in bands of a part of a recording, in dB, every 10 ms. */
export class BandCourse {
  private readonly energies: BandEnergies;
  private readonly floors: readonly number[];

  constructor(
    private readonly signal: Float32Array,
    private readonly sampleRate: number,
  ) {
    this.energies = measureBandEnergies(signal, sampleRate);
    let loudest = 1e-9;
    for (const band of this.energies.bands) for (const power of band) loudest = Math.max(loudest, power);
    const floor = loudest * 10 ** (-RANGE_DB / 10);
    this.floors = this.energies.bands.map(() => floor);
  }

  /** Mean power of a band over a step from a frame on. */
  private power(band: number, frame: number, step: number): number {
    const { bands, hopFrames, length } = this.energies;
    const from = Math.round(frame / hopFrames) + step * STEP_HOPS;
    let sum = 0;
    for (let hop = from; hop < from + STEP_HOPS; hop++) if (hop >= 0 && hop < length) sum += bands[band]![hop]!;
    return sum / STEP_HOPS;
  }

  /** How alike what follows two frames is, 0..1. */
  likeness(one: number, other: number): number {
    const steps = Math.round((SEEN_SECONDS * 1000) / STEP_HOPS);
    let [apart, weight] = [0, 0];
    for (let band = 0; band < this.floors.length; band++) {
      const floor = this.floors[band]!;
      for (let step = 0; step < steps; step++) {
        const [a, b] = [this.power(band, one, step), this.power(band, other, step)];
        const louder = Math.max(a, b);
        if (louder <= floor) continue;
        // Louder ones are heard more.
        const heard = Math.sqrt(Math.sqrt(louder));
        apart += heard * Math.abs(10 * Math.log10((a + floor) / (b + floor)));
        weight += heard;
      }
    }
    return weight === 0 ? 0 : Math.max(0, 1 - apart / weight / STRANGE_DB);
  }

  seam(startFrame: number, endFrame: number): Seam {
    const steps = Math.round((SEEN_SECONDS * 1000) / STEP_HOPS);
    const course = (frame: number) =>
      Array.from({ length: steps }, (_, step) =>
        Math.sqrt(this.floors.reduce((sum, _floor, band) => sum + this.power(band, frame, step), 0)),
      );
    const [start, after] = [course(startFrame), course(endFrame)];
    const most = Math.max(1e-9, ...start, ...after);
    return {
      seamless: this.likeness(startFrame, endFrame),
      fadeMs: this.fadeMs(startFrame, endFrame),
      start: start.map((level) => level / most),
      after: after.map((level) => level / most),
    };
  }

  private fadeMs(startFrame: number, endFrame: number): number {
    const { signal, sampleRate } = this;
    const peak = (from: number, to: number) => {
      let most = 1e-6;
      for (let i = Math.max(0, from); i < Math.min(signal.length, to); i++) most = Math.max(most, Math.abs(signal[i]!));
      return most;
    };
    const endPeak = peak(endFrame - Math.round(END_SECONDS * sampleRate), endFrame);
    const belowDb = 20 * Math.log10(peak(startFrame, endFrame) / endPeak);
    if (belowDb >= QUIET_END_DB) return 0;
    return Math.max(2, Math.round(1000 * LONGEST_FADE_SECONDS * (1 - belowDb / QUIET_END_DB)));
  }
}
