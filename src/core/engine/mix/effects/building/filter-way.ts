/** One way to filter: sections in a row or a ladder, one or two of them. */
import { dbToGain } from '../../../../units/level.ts';
import { Ladder } from './ladder.ts';
import { OnePole } from './one-pole.ts';
import { Section } from './section.ts';

export interface FilterWaySettings {
  /** Low, high, band, notch, peak. */
  shape: number;
  /** 6, 12, 24, 36, 48 dB an octave. */
  slope: number;
  isLadder: boolean;
  /** None, behind, beside. */
  second: number;
  cutoffHz: number;
  resonance: number;
  apartCents: number;
  driveDb: number;
}

const [LOW, HIGH, BAND, NOTCH] = [0, 1, 2, 3];
const BESIDE = 2;
/** Sections of two poles, by slope; the first is of one pole. */
const SECTIONS = [1, 1, 2, 3, 4] as const;
/** `1 / Q` of the sections of Butterworth filters of 2 to 8 poles: `2 sin((2 i + 1) pi / (2 n))`. */
const DAMPINGS = [1, 2, 3, 4].map((sections) =>
  Array.from({ length: sections }, (_, i) => 2 * Math.sin(((2 * i + 1) * Math.PI) / (4 * sections))),
);
const LEAST_DAMPING = 0.05;
/** How much a peak rises at full resonance, in dB, and at none. */
const PEAK_DB = [3, 24] as const;

/** Sections in a row, or a ladder. */
class Row {
  private readonly sections: readonly Section[];
  private readonly poles = [new OnePole(), new OnePole()] as const;
  private readonly ladder: Ladder;
  private settings: FilterWaySettings | null = null;

  constructor(private readonly sampleRate: number) {
    this.sections = [0, 1, 2, 3].map(() => new Section(sampleRate));
    this.ladder = new Ladder(sampleRate);
  }

  reset(): void {
    for (const one of [...this.sections, ...this.poles, this.ladder]) one.reset();
  }

  set(settings: FilterWaySettings, cutoffHz: number): void {
    this.settings = settings;
    const { shape, slope, isLadder, resonance, driveDb } = settings;
    if (isLadder) {
      this.ladder.set(cutoffHz, resonance, dbToGain(driveDb));
      return;
    }
    if (slope === 0) for (const pole of this.poles) pole.set(cutoffHz, this.sampleRate);
    const count = SECTIONS[slope]!;
    for (let s = 0; s < count; s++) {
      const section = this.sections[s]!;
      if (shape === LOW || shape === HIGH) {
        const flat = DAMPINGS[count - 1]![s]!;
        // The first rings: all of them would go up with the square and the cube of it.
        const damping = s === 0 ? flat + (LEAST_DAMPING - flat) * resonance : flat;
        if (shape === LOW) section.highCut(cutoffHz, 1 / damping);
        else section.lowCut(cutoffHz, 1 / damping);
      } else {
        const damping = Math.SQRT2 + (LEAST_DAMPING - Math.SQRT2) * resonance;
        if (shape === BAND) section.band(cutoffHz, 1 / damping);
        else if (shape === NOTCH) section.notch(cutoffHz, 1 / damping);
        else section.bell(cutoffHz, 1 + s, (PEAK_DB[0] + (PEAK_DB[1] - PEAK_DB[0]) * resonance) / count);
      }
    }
  }

  process(left: Float32Array, right: Float32Array, count: number): void {
    const { shape, slope, isLadder } = this.settings!;
    if (isLadder) {
      this.ladder.process(left, right, count, shape, slope);
      return;
    }
    if (slope === 0 && (shape === LOW || shape === HIGH)) {
      const [l, r] = this.poles;
      if (shape === LOW) {
        l.runLow(left, count);
        r.runLow(right, count);
      } else {
        l.runHigh(left, count);
        r.runHigh(right, count);
      }
      return;
    }
    for (let s = 0; s < SECTIONS[slope]!; s++) this.sections[s]!.process(left, right, count);
  }
}

export class FilterWay {
  private readonly first: Row;
  private readonly other: Row;
  private second = 0;

  constructor(sampleRate: number) {
    this.first = new Row(sampleRate);
    this.other = new Row(sampleRate);
  }

  reset(): void {
    this.first.reset();
    this.other.reset();
  }

  /** @param byOctaves how far the cutoff is moved */
  set(settings: FilterWaySettings, byOctaves: number): void {
    this.second = settings.second;
    const cutoffHz = settings.cutoffHz * 2 ** byOctaves;
    this.first.set(settings, within(cutoffHz));
    if (settings.second > 0) this.other.set(settings, within(cutoffHz * 2 ** (settings.apartCents / 1200)));
  }

  process(left: Float32Array, right: Float32Array, count: number): void {
    if (this.second === BESIDE) {
      for (let i = 0; i < count; i++) {
        beside.left[i] = left[i]!;
        beside.right[i] = right[i]!;
      }
      this.other.process(beside.left, beside.right, count);
    }
    this.first.process(left, right, count);
    if (this.second === 0) return;
    if (this.second !== BESIDE) {
      this.other.process(left, right, count);
      return;
    }
    for (let i = 0; i < count; i++) {
      left[i] = (left[i]! + beside.left[i]!) / 2;
      right[i] = (right[i]! + beside.right[i]!) / 2;
    }
  }
}

const beside = { left: new Float32Array(32), right: new Float32Array(32) };

function within(hz: number): number {
  return Math.max(16, Math.min(20_000, hz));
}
