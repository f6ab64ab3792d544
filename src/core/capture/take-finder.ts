/**
 * Finds hits in an input as it comes: one begins where the level rises over one line, and ends where it has been below
 * another for long enough, or where the next one is struck into it. Levels are those of what stands out of the floor: see
 * floor.ts.
 */
import type { Floor } from './floor.ts';

export interface TakeSettings {
  openDb: number;
  closeDb: number;
  /** Hits that follow each other more closely are one. */
  leastPauseMs: number;
}

const dbToPower = (db: number) => 10 ** (db / 10);
const powerToDb = (power: number) => 10 * Math.log10(power + 1e-20);

/** Lines suggested above a floor, in dB. */
export const SUGGESTED_OPEN_DB = 10;
export const SUGGESTED_CLOSE_DB = 4;

/** How long a level is taken over: short, to see a hit come, and longer, to see it go. */
export const HOP_SECONDS = 0.0015;
const GOING_HOPS = 8;
/** Struck into what rings: so much louder than it was just before, in dB, within so long. */
const RESTRUCK_DB = 8;
const LOOK_BACK_HOPS = 24;
const RECENT_HOPS = 4;
const ORDER_MOST = 64;

export interface FoundTake {
  /** Where it has come over the line, to a few milliseconds: its attack lies before it. */
  coarseFrame: number;
  /** Where it has sunk into the floor, or where the next one begins. */
  endFrame: number;
  peakDb: number;
  /** The next one was struck into it. */
  ringsIntoNext: boolean;
}

export class TakeFinder {
  readonly hopFrames: number;
  /** Level of the last hop, for those who draw it. */
  levelDb = -Infinity;
  private floor: Floor;
  private settings: TakeSettings;
  private frame = 0;
  private readonly past = new Float64Array(ORDER_MOST);
  private at = 0;
  private sum = 0;
  private inHop = 0;
  /** Powers of the last hops, the latest at `hop - 1`. */
  private readonly powers = new Float64Array(64);
  private hops = 0;
  private open: { coarseFrame: number; lastLoudFrame: number; peak: number } | null = null;

  constructor(
    private readonly sampleRate: number,
    floor: Floor,
    settings: TakeSettings,
  ) {
    this.hopFrames = Math.max(1, Math.round(HOP_SECONDS * sampleRate));
    this.floor = floor;
    this.settings = settings;
  }

  setFloor(floor: Floor): void {
    this.floor = floor;
  }

  set(settings: TakeSettings): void {
    this.settings = settings;
  }

  /** Has a hit begun that has not ended? Where it came over the line; null for none. */
  get openSince(): number | null {
    return this.open?.coarseFrame ?? null;
  }

  /**
   * Takes the next frames.
   * @param onTake called for each hit that has ended @param onHop called with each level
   */
  feed(
    samples: Float32Array,
    onTake: (take: FoundTake) => void,
    onHop?: (levelDb: number, frame: number) => void,
  ): void {
    const { prediction } = this.floor;
    const order = prediction.length;
    const { past } = this;
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i]!;
      let expected = 0;
      for (let k = 0; k < order; k++) expected += prediction[k]! * past[(this.at - 1 - k) & (ORDER_MOST - 1)]!;
      past[this.at & (ORDER_MOST - 1)] = x;
      this.at = (this.at + 1) & 0xffff;
      const left = x - expected;
      this.sum += left * left;
      if (++this.inHop < this.hopFrames) continue;
      this.frame += this.inHop;
      this.inHop = 0;
      const power = this.sum / this.hopFrames;
      this.sum = 0;
      this.powers[this.hops++ & 63] = power;
      this.levelDb = powerToDb(power) + this.floor.liftDb;
      onHop?.(this.levelDb, this.frame);
      this.step(onTake);
    }
  }

  /** Mean power of some hops, the first of them so many ago. */
  private mean(ago: number, count: number): number {
    let sum = 0;
    for (let i = 0; i < count; i++) sum += this.powers[(this.hops - 1 - ago + i) & 63]!;
    return sum / count;
  }

  private step(onTake: (take: FoundTake) => void): void {
    const { openDb, closeDb, leastPauseMs } = this.settings;
    const lift = dbToPower(-this.floor.liftDb);
    const openAt = dbToPower(openDb) * lift;
    const closeAt = dbToPower(closeDb) * lift;
    const now = this.mean(0, 1);
    const start = this.frame - this.hopFrames;
    const pauseFrames = (leastPauseMs / 1000) * this.sampleRate;
    if (!this.open) {
      if (now >= openAt) this.open = { coarseFrame: start, lastLoudFrame: this.frame, peak: now };
      return;
    }
    const { open } = this;
    if (this.isRestruck(now, openAt) && start - open.coarseFrame >= Math.min(pauseFrames, 0.06 * this.sampleRate)) {
      onTake(this.taken(start, true));
      this.open = { coarseFrame: start, lastLoudFrame: this.frame, peak: now };
      return;
    }
    open.peak = Math.max(open.peak, now);
    const going = this.mean(GOING_HOPS - 1, Math.min(GOING_HOPS, this.hops));
    if (going >= closeAt) open.lastLoudFrame = this.frame;
    else if (this.frame - open.lastLoudFrame >= pauseFrames) {
      onTake(this.taken(open.lastLoudFrame, false));
      this.open = null;
    }
  }

  /** Much louder now than it was a moment ago, and than all that came just before. */
  private isRestruck(now: number, openAt: number): boolean {
    if (now < openAt || this.hops < LOOK_BACK_HOPS) return false;
    let most = 0;
    for (let ago = RECENT_HOPS; ago < LOOK_BACK_HOPS; ago++) most = Math.max(most, this.mean(ago, 1));
    return now >= dbToPower(RESTRUCK_DB) * most;
  }

  private taken(endFrame: number, ringsIntoNext: boolean): FoundTake {
    const { coarseFrame, peak } = this.open!;
    return { coarseFrame, endFrame, peakDb: powerToDb(peak) + this.floor.liftDb, ringsIntoNext };
  }

  /** The input has ended: what is open ends with it. */
  end(onTake: (take: FoundTake) => void): void {
    if (this.open) onTake(this.taken(this.open.lastLoudFrame, false));
    this.open = null;
  }
}
