/**
 * A machine beside Yappa that is not there: it sends a clock of its own, as unsteady as wanted, and listens to the one that
 * it is sent. It speaks in bytes with their times, as what is plugged in does.
 */
import { ClockFollower } from '#core/midi/clock-in.ts';
import { ClockSender } from '#core/midi/clock-out.ts';
import { MidiReader, midiBytes } from '#core/midi/messages.ts';
import { seededRandom } from '#core/units/random.ts';

export const MACHINE_NAME = 'Stand-in machine';
export const MACHINE_ID = 'stand-in-machine';
/** How often it looks at its own time, and how far it looks ahead, in milliseconds. */
const LOOK_MS = 20;

export interface Heard {
  tempoBpm: number | null;
  unsteadyMs: number;
  isRunning: boolean;
  /** Bars and beats would need a metre: it counts quarter notes. */
  beats: number | null;
  /** How much later than its own song the one is that it hears, in milliseconds; null where one of them stands. */
  laterMs: number | null;
  notes: number;
}

export class StandInMachine {
  tempoBpm = 120;
  noiseMs = 0;
  /** Its clock does not come: a cable that was pulled. */
  isCut = false;
  private isPlaying = false;
  private order = 0;
  private ticks = 0;
  private lookedMs = 0;
  private timer: ReturnType<typeof setInterval> | null = null;
  private readonly sender = new ClockSender();
  private readonly follower = new ClockFollower();
  private readonly reader = new MidiReader();
  private readonly random = seededRandom(1);
  private noteCount = 0;

  /** @param send takes its bytes, with the time at which they came */
  constructor(private readonly send: (bytes: readonly number[], timeStamp: number) => void) {}

  get playing(): boolean {
    return this.isPlaying;
  }

  play(): void {
    this.isPlaying = true;
    this.order++;
    this.ticks = 0;
    this.lookedMs = performance.now();
    this.timer ??= setInterval(() => this.look(), LOOK_MS);
    this.look();
  }

  stop(): void {
    this.isPlaying = false;
    this.order++;
    this.look();
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }

  private look(): void {
    const now = performance.now();
    if (this.isPlaying) this.ticks += ((now - this.lookedMs) / 60_000) * this.tempoBpm * 960;
    this.lookedMs = now;
    const { isPlaying, order, ticks, tempoBpm } = this;
    // What was due since the last look comes now, with the time at which it came.
    for (const { message, atMs } of this.sender.advance({ isPlaying, order, ticks, atMs: now, tempoBpm }, now)) {
      const noise = message.kind === 'clock' ? this.noiseMs * (2 * this.random() - 1) : 0;
      if (!this.isCut) this.send(midiBytes(message), atMs + noise);
    }
  }

  /** What it is sent. */
  hear(bytes: readonly number[], timeStamp = performance.now()): void {
    for (const message of this.reader.read(bytes)) {
      if (message.kind === 'note-on') this.noteCount++;
      this.follower.take(message, timeStamp);
    }
  }

  get heard(): Heard {
    const { tempoBpm, unsteadyMs, isRunning } = this.follower;
    const now = performance.now();
    const ticks = this.follower.ticksAt(now);
    const own = this.ticks + ((now - this.lookedMs) / 60_000) * this.tempoBpm * 960;
    return {
      tempoBpm,
      unsteadyMs,
      isRunning,
      beats: ticks === null ? null : ticks / 960,
      laterMs: ticks === null || !this.isPlaying ? null : ((own - ticks) / 960 / this.tempoBpm) * 60_000,
      notes: this.noteCount,
    };
  }
}
