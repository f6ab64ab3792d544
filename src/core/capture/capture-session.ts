/**
 * An input that is listened to: its floor is learned, hits fall out of it one by one, each with the sound before its attack.
 * It holds the last half minute and nothing more, however long it listens.
 */
import { quietStretch, readFloor, type Floor } from './floor.ts';
import { FLOOR_SECONDS, suggestedSettings } from './find-takes.ts';
import { TakeFinder, type FoundTake } from './take-finder.ts';
import { takeStart } from './take-start.ts';

export interface CaptureSettings {
  /** Null: as the floor suggests. */
  openDb: number | null;
  closeDb: number | null;
  leastPauseMs: number;
  /** Kept of what came before a hit. */
  preRollMs: number;
  isStereo: boolean;
  /** Each take as loud as the others. */
  isLevelled: boolean;
}

export interface CapturedTake {
  sampleRate: number;
  channels: Float32Array[];
  /** In its own samples: where the hit begins, and where it has sunk into the floor. */
  startFrame: number;
  endFrame: number;
  peakDb: number;
  /** Since it has been listened to, in seconds. */
  atSeconds: number;
}

export type CaptureEvent =
  | { kind: 'floor'; floorDb: number; openDb: number; closeDb: number }
  /** Levels since the last of these, one a hop. */
  | { kind: 'levels'; fromFrame: number; hopFrames: number; levelsDb: Float32Array; isOpen: boolean }
  | { kind: 'take'; take: CapturedTake }
  /** It does not fall silent: what was open was ended, and the line has to be put up. */
  | { kind: 'endless' };

/** So much is heard before the floor is told. */
const LEARN_SECONDS = 0.8;
/** Read anew so often, while nothing is open. */
const RELEARN_SECONDS = 2;
const RING_SECONDS = 30;
/** No hit is longer. */
const LONGEST_SECONDS = 20;
/** What was cut off where it sank into the floor fades over so long. */
const END_FADE_SECONDS = 0.005;
/** A levelled take is as loud as this, at its peak. */
const LEVELLED_PEAK = 10 ** (-1 / 20);

export class CaptureSession {
  private readonly ring: readonly [Float32Array, Float32Array];
  private readonly ringFrames: number;
  private frames = 0;
  private floor: Floor | null = null;
  private finder: TakeFinder | null = null;
  private learnedAt = 0;
  private wasRestruck = false;
  private levels: number[] = [];
  private levelsFrom = 0;

  constructor(
    private readonly sampleRate: number,
    private settings: CaptureSettings,
  ) {
    this.ringFrames = Math.round(RING_SECONDS * sampleRate);
    this.ring = [new Float32Array(this.ringFrames), new Float32Array(this.ringFrames)];
  }

  set(settings: CaptureSettings): void {
    this.settings = settings;
    if (this.floor) this.finder?.set(this.lines());
  }

  private lines() {
    const suggested = suggestedSettings(this.floor!);
    const openDb = this.settings.openDb ?? suggested.openDb;
    // It never closes above where it opens.
    const closeDb = Math.min(openDb, this.settings.closeDb ?? suggested.closeDb);
    return { openDb, closeDb, leastPauseMs: this.settings.leastPauseMs };
  }

  /** Takes the next frames of one channel or two. */
  feed(channels: readonly Float32Array[]): CaptureEvent[] {
    const [left, right = left] = channels;
    const events: CaptureEvent[] = [];
    const count = left!.length;
    for (let i = 0; i < count; i++) {
      const at = (this.frames + i) % this.ringFrames;
      this.ring[0][at] = left![i]!;
      this.ring[1][at] = right![i]!;
    }
    this.frames += count;
    if (!this.floor) this.learnFirst(events);
    else this.look(this.monoOf(this.frames - count, this.frames), events);
    return events;
  }

  /** The mean of the channels of what is still held. */
  private monoOf(from: number, to: number): Float32Array {
    const out = new Float32Array(Math.max(0, to - from));
    for (let i = 0; i < out.length; i++) {
      const at = (from + i) % this.ringFrames;
      out[i] = (this.ring[0][at]! + this.ring[1][at]!) / 2;
    }
    return out;
  }

  private learnFirst(events: CaptureEvent[]): void {
    if (this.frames < LEARN_SECONDS * this.sampleRate) return;
    const heard = this.monoOf(0, this.frames);
    this.learn(heard, events);
    this.finder = new TakeFinder(this.sampleRate, this.floor!, this.lines());
    // What was struck while it learned is not lost.
    this.look(heard, events);
  }

  private learn(heard: Float32Array, events: CaptureEvent[]): void {
    this.floor = readFloor(quietStretch(heard, Math.round(FLOOR_SECONDS * this.sampleRate)));
    this.learnedAt = this.frames;
    const { openDb, closeDb } = suggestedSettings(this.floor);
    events.push({ kind: 'floor', floorDb: this.floor.levelDb, openDb, closeDb });
  }

  private look(mono: Float32Array, events: CaptureEvent[]): void {
    const finder = this.finder!;
    const found: FoundTake[] = [];
    finder.feed(
      mono,
      (take) => found.push(take),
      (levelDb) => this.levels.push(levelDb),
    );
    for (const take of found) this.put(take, events);
    const { openSince } = finder;
    if (openSince !== null && this.frames - openSince > LONGEST_SECONDS * this.sampleRate) {
      finder.end((take) => this.put(take, events));
      events.push({ kind: 'endless' });
    }
    if (this.levels.length > 0) {
      const levelsDb = Float32Array.from(this.levels);
      const isOpen = finder.openSince !== null;
      events.push({ kind: 'levels', fromFrame: this.levelsFrom, hopFrames: finder.hopFrames, levelsDb, isOpen });
      this.levelsFrom += this.levels.length * finder.hopFrames;
      this.levels = [];
    }
    const since = (this.frames - this.learnedAt) / this.sampleRate;
    if (since >= RELEARN_SECONDS && finder.openSince === null) {
      this.learn(this.monoOf(Math.max(0, this.frames - RELEARN_SECONDS * this.sampleRate), this.frames), events);
      finder.setFloor(this.floor!);
      finder.set(this.lines());
    }
  }

  /** The input ends: what is open ends with it. */
  end(): CaptureEvent[] {
    const events: CaptureEvent[] = [];
    this.finder?.end((take) => this.put(take, events));
    return events;
  }

  private put({ coarseFrame, endFrame, peakDb, ringsIntoNext }: FoundTake, events: CaptureEvent[]): void {
    const { sampleRate, settings } = this;
    const oldest = Math.max(0, this.frames - this.ringFrames);
    const from = Math.max(oldest, coarseFrame - Math.round(0.2 * sampleRate));
    const mono = this.monoOf(from, Math.min(this.frames, coarseFrame + Math.round(0.05 * sampleRate)));
    const start = from + takeStart(mono, sampleRate, coarseFrame - from, this.floor!, this.wasRestruck);
    this.wasRestruck = ringsIntoNext;
    const first = Math.max(oldest, start - Math.round((settings.preRollMs / 1000) * sampleRate));
    const end = Math.min(this.frames, Math.max(endFrame, start + Math.round(0.01 * sampleRate)));
    const channels = (settings.isStereo ? [0, 1] : [-1]).map((side) => this.cut(side, first, end));
    const levelling = settings.isLevelled ? LEVELLED_PEAK / Math.max(1e-4, peakOf(channels)) : 1;
    const fade = Math.min(end - start, Math.round(END_FADE_SECONDS * sampleRate));
    for (const channel of channels) {
      for (let i = 0; i < channel.length; i++) channel[i]! *= levelling;
      for (let i = 0; i < fade; i++) channel[channel.length - 1 - i]! *= i / fade;
    }
    const atSeconds = start / sampleRate;
    const take = { sampleRate, channels, startFrame: start - first, endFrame: end - first, peakDb, atSeconds };
    events.push({ kind: 'take', take });
  }

  /** @param side -1: the mean of both */
  private cut(side: number, from: number, to: number): Float32Array {
    if (side < 0) return this.monoOf(from, to);
    return Float32Array.from({ length: to - from }, (_, i) => this.ring[side as 0 | 1][(from + i) % this.ringFrames]!);
  }
}

function peakOf(channels: readonly Float32Array[]): number {
  let peak = 0;
  for (const channel of channels) for (const sample of channel) peak = Math.max(peak, Math.abs(sample));
  return peak;
}
