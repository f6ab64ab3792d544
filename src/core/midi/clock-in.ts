/**
 * The clock of others, as it comes: its tempo and place by the line that fits the last clocks best (least squares), how
 * steady it is by what is left over. Single clocks that do not come are bridged; another tempo is taken up within four.
 */
import { TICKS_PER_BEAT } from '../units/time.ts';
import { CLOCKS_PER_BEAT, CLOCKS_PER_SIXTEENTH, type MidiMessage } from './messages.ts';

const CLOCK_TICKS = TICKS_PER_BEAT / CLOCKS_PER_BEAT;
/** Two beats. */
const WINDOW = 2 * CLOCKS_PER_BEAT;
/** A tempo is said from so many clocks on. */
const FIRST = 6;
/** Off by so much of a clock, so often in a row and to one side: it is another tempo. */
const OTHER_SHARE = 0.25;
const OTHER_COUNT = 4;
/** More than so many clocks between two, and some did not come. */
const GAP_SHARE = 1.75;
/** Nothing has come for so long: it is gone. */
const GONE_MS = 600;
/** Clocks that come faster than this are no tempo (over 400 beats a minute). */
const LEAST_MS = 60_000 / 420 / CLOCKS_PER_BEAT;

export class ClockFollower {
  /** The song of the other runs. */
  isRunning = false;
  private readonly times: number[] = [];
  /** Numbers of the clocks at these times; those that did not come are counted. */
  private readonly clocks: number[] = [];
  /** The next clock is this one; where the song stands. */
  private next = 0;
  private odd = 0;
  private slope = 0;
  private origin = 0;
  private spreadMs = 0;
  private lastMs = -Infinity;

  /** @param atMs when it came */
  take(message: MidiMessage, atMs: number): void {
    switch (message.kind) {
      case 'start':
        this.begin(0);
        break;
      case 'position':
        this.next = message.sixteenths * CLOCKS_PER_SIXTEENTH;
        this.renumber();
        break;
      case 'continue':
        this.begin(this.next);
        break;
      case 'stop':
        this.isRunning = false;
        break;
      case 'clock':
        this.clock(atMs);
        break;
      default:
    }
  }

  private begin(clock: number): void {
    this.isRunning = true;
    this.next = clock;
    this.renumber();
  }

  /** What came before is what came before the next one, whatever that is. */
  private renumber(): void {
    const last = this.clocks.at(-1);
    if (last === undefined) return;
    const by = this.next - 1 - last;
    for (let i = 0; i < this.clocks.length; i++) this.clocks[i]! += by;
    this.fit();
  }

  private clock(atMs: number): void {
    const since = atMs - this.lastMs;
    if (this.slope > 0 && since > GAP_SHARE * this.slope) this.next += Math.max(0, Math.round(since / this.slope) - 1);
    this.findOther(since);
    this.lastMs = atMs;
    // Two at once are noise of the wire, and not a tempo.
    this.times.push(atMs);
    this.clocks.push(this.next++);
    while (this.times.length > WINDOW || this.clocks.at(-1)! - this.clocks[0]! >= 2 * WINDOW) {
      this.times.shift();
      this.clocks.shift();
    }
    this.fit();
  }

  /** Is it another tempo? Then only the last clocks count. */
  private findOther(since: number): void {
    if (this.slope === 0) return;
    const isGap = since > GAP_SHARE * this.slope && since < 20 * this.slope && this.odd <= 0;
    const off = (since - this.slope) / this.slope;
    if (Math.abs(off) < OTHER_SHARE || isGap) {
      if (Math.abs(off) < OTHER_SHARE) this.odd = 0;
      else this.odd = 1;
      return;
    }
    const side = Math.sign(off);
    this.odd = Math.sign(this.odd) === side ? this.odd + side : side;
    if (Math.abs(this.odd) < OTHER_COUNT) return;
    this.odd = 0;
    this.slope = 0;
    this.times.splice(0, this.times.length - OTHER_COUNT);
    // Those were no gaps: they came one after another.
    this.next = this.clocks.at(-1)! + 1;
    this.clocks.splice(0, this.clocks.length, ...this.times.map((_, place) => this.next - this.times.length + place));
  }

  private fit(): void {
    const count = this.times.length;
    if (count < FIRST) {
      this.slope = 0;
      return;
    }
    const meanClock = this.clocks.reduce((sum, clock) => sum + clock, 0) / count;
    const meanTime = this.times.reduce((sum, time) => sum + time, 0) / count;
    let top = 0;
    let bottom = 0;
    for (let i = 0; i < count; i++) {
      const away = this.clocks[i]! - meanClock;
      top += away * (this.times[i]! - meanTime);
      bottom += away * away;
    }
    this.slope = Math.max(LEAST_MS, top / bottom);
    this.origin = meanTime - this.slope * meanClock;
    let squares = 0;
    for (let i = 0; i < count; i++) squares += (this.times[i]! - this.origin - this.slope * this.clocks[i]!) ** 2;
    this.spreadMs = Math.sqrt(squares / count);
  }

  /** Beats a minute; null while there is none. */
  get tempoBpm(): number | null {
    return this.slope > 0 ? 60_000 / (this.slope * CLOCKS_PER_BEAT) : null;
  }

  /** Where its song is at a moment; null while it stands, or nothing is known. */
  ticksAt(ms: number): number | null {
    if (!this.isRunning || this.slope === 0) return null;
    return ((ms - this.origin) / this.slope) * CLOCK_TICKS;
  }

  /** Where it begins, or goes on. */
  get nextTicks(): number {
    return this.next * CLOCK_TICKS;
  }

  /** How far clocks come from where they should, in milliseconds (standard deviation). */
  get unsteadyMs(): number {
    return this.spreadMs;
  }

  /** How long nothing has come, in milliseconds; 0 while it comes. */
  missingMs(nowMs: number): number {
    const since = nowMs - this.lastMs;
    return since > GONE_MS ? since : 0;
  }
}

/** Brought home within so many beats. */
const HOME_BEATS = 3;
/** No faster than this: nobody is to hear it as another tempo. */
const MOST_BEND = 0.06;
/** Further away than a sixteenth it is put there at once. */
const FAR_TICKS = TICKS_PER_BEAT / 4;

/** What the own song is to do so that it is where the other's is. */
export type Steering = { kind: 'tempo'; tempoBpm: number } | { kind: 'jump'; ticks: number };

/** @param ownTicks where the own song is, @param otherTicks where it is to be */
export function steer(ownTicks: number, otherTicks: number, tempoBpm: number): Steering {
  const away = otherTicks - ownTicks;
  if (Math.abs(away) > FAR_TICKS) return { kind: 'jump', ticks: otherTicks };
  const bend = Math.max(-MOST_BEND, Math.min(MOST_BEND, away / (HOME_BEATS * TICKS_PER_BEAT)));
  return { kind: 'tempo', tempoBpm: tempoBpm * (1 + bend) };
}
