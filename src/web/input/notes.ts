/**
 * Keys as they are pressed and let go, by whatever device: each press has a number of its own, and letting go names that,
 * so that a release always finds what it belongs to, whatever part is chosen by then.
 */
import type { ToEngine } from '#core/engine/messages.ts';
import type { ControlEvent } from '#core/engine/sequence/notes.ts';

/** What notes are played on. */
export interface NoteEngine {
  resume(): Promise<void>;
  send(message: ToEngine): void;
  /** Time of the audio clock at a moment of `performance.now()`, in seconds; null while there is none. */
  timeAt(milliseconds: number): number | null;
}

export class NoteInput {
  /** Asked before a press sounds: true when it was waited for and is for something else. */
  awaits: ((partId: string, key: number) => boolean) | null = null;
  /** Keys that play no sound. */
  switches: { press(partId: string, key: number, noteId: number): boolean; release(noteId: number): void } | null =
    null;
  private lastNoteId = 0;
  private readonly switching = new Set<number>();
  private readonly held = new Set<number>();

  constructor(private readonly engine: NoteEngine) {}

  /**
   * Presses a key of a part.
   * @param velocity 0..1
   * @param timeStamp when, as events tell it; now when left out
   * @returns the press, to be let go by
   */
  press(partId: string, key: number, velocity: number, timeStamp?: number): number {
    const noteId = ++this.lastNoteId;
    if (this.awaits?.(partId, key)) return noteId;
    if (this.switches?.press(partId, key, noteId)) {
      this.switching.add(noteId);
      return noteId;
    }
    this.held.add(noteId);
    // Sound may first have to be let out; what is pressed meanwhile waits in its order.
    void this.engine.resume();
    this.engine.send({ type: 'note-on', noteId, partId, key, velocity, timeSeconds: this.timeOf(timeStamp) });
    return noteId;
  }

  /** Lets a press go; a second time does nothing. */
  release(noteId: number, timeStamp?: number): void {
    if (this.switching.delete(noteId)) this.switches?.release(noteId);
    if (!this.held.delete(noteId)) return;
    this.engine.send({ type: 'note-off', noteId, timeSeconds: this.timeOf(timeStamp) });
  }

  /** A wheel, pedal or controller of a part. @param value 0..1, of the wheel -1..1 */
  control(partId: string, control: ControlEvent['control'], value: number): void {
    this.engine.send({ type: 'control', partId, control, value });
  }

  /** Everything falls silent at once. */
  allSoundOff(): void {
    this.held.clear();
    this.engine.send({ type: 'all-sound-off' });
  }

  /** Lets everything go. */
  releaseAll(): void {
    for (const noteId of [...this.held, ...this.switching]) this.release(noteId);
  }

  private timeOf(timeStamp: number | undefined): number | null {
    return timeStamp === undefined ? null : this.engine.timeAt(timeStamp);
  }
}

/** The keys of one device: it names them as it likes, and what is pressed twice is let go first. */
export class DeviceKeys {
  private readonly notes = new Map<number, number>();

  constructor(private readonly input: NoteInput) {}

  down(name: number, partId: string, key: number, velocity: number, timeStamp?: number): void {
    this.up(name, timeStamp);
    this.notes.set(name, this.input.press(partId, key, velocity, timeStamp));
  }

  up(name: number, timeStamp?: number): void {
    const noteId = this.notes.get(name);
    if (noteId === undefined) return;
    this.notes.delete(name);
    this.input.release(noteId, timeStamp);
  }

  allUp(): void {
    for (const name of [...this.notes.keys()]) this.up(name);
  }
}
