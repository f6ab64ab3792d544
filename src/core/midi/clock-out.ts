/**
 * The clock of the song for others: 24 messages a quarter note, start, continue with a position, stop (MIDI 1.0, "System
 * Real Time" and "Song Position Pointer"). What is to go out within the next moment is told with its times, which follow
 * from the place of the song and not from when somebody looks.
 */
import { TICKS_PER_BEAT } from '../units/time.ts';
import { CLOCKS_PER_BEAT, CLOCKS_PER_SIXTEENTH, type MidiMessage } from './messages.ts';

const CLOCK_TICKS = TICKS_PER_BEAT / CLOCKS_PER_BEAT;

/** Where a song is at a moment. */
export interface SongMoment {
  isPlaying: boolean;
  /** Counts plays and stops: another one begins anew. */
  order: number;
  ticks: number;
  /** In milliseconds of the clock that messages are timed by. */
  atMs: number;
  tempoBpm: number;
}

export interface TimedMessage {
  message: MidiMessage;
  atMs: number;
}

export class ClockSender {
  private isRunning = false;
  private order = -1;
  /** Number of the clock that goes out next, counted from the song's beginning. */
  private next = 0;
  private lastMs = -Infinity;

  /** @returns what goes out up to a moment, in order */
  advance({ isPlaying, order, ticks, atMs, tempoBpm }: SongMoment, untilMs: number): TimedMessage[] {
    const out: TimedMessage[] = [];
    const msPerTick = 60_000 / tempoBpm / TICKS_PER_BEAT;
    const timeOf = (clock: number) => atMs + (clock * CLOCK_TICKS - ticks) * msPerTick;
    const put = (message: MidiMessage, time: number) => {
      // Another tempo may move what comes before what has gone out already.
      this.lastMs = Math.max(this.lastMs, time);
      out.push({ message, atMs: this.lastMs });
    };
    if (this.isRunning && (!isPlaying || order !== this.order)) {
      put({ kind: 'stop' }, atMs);
      this.isRunning = false;
    }
    if (!isPlaying) return out;
    if (!this.isRunning) {
      const clock =
        ticks <= CLOCK_TICKS / 2
          ? 0
          : Math.ceil(ticks / CLOCK_TICKS / CLOCKS_PER_SIXTEENTH - 1e-6) * CLOCKS_PER_SIXTEENTH;
      // While it is counted in, and up to the next sixteenth, it waits.
      if (timeOf(clock) >= untilMs) return out;
      this.isRunning = true;
      this.order = order;
      this.next = clock;
      if (clock === 0) put({ kind: 'start' }, timeOf(0));
      else {
        put({ kind: 'position', sixteenths: clock / CLOCKS_PER_SIXTEENTH }, timeOf(clock));
        put({ kind: 'continue' }, timeOf(clock));
      }
    }
    for (; timeOf(this.next) < untilMs; this.next++) put({ kind: 'clock' }, timeOf(this.next));
    return out;
  }

  /** Nothing is sent any more. */
  stop(atMs: number): TimedMessage[] {
    const was = this.isRunning;
    this.isRunning = false;
    return was ? [{ message: { kind: 'stop' }, atMs: Math.max(this.lastMs, atMs) }] : [];
  }
}
