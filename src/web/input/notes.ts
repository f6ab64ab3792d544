/**
 * Keys as they are pressed and let go, by whatever device: each press has a number of its own, and letting go names that,
 * so that a release always finds what it belongs to, whatever part is chosen by then.
 */
import type { ToEngine } from '#core/engine/messages.ts';

/** What notes are played on. */
export interface NoteEngine {
  resume(): Promise<void>;
  send(message: ToEngine): void;
  /** Time of the audio clock at a moment of `performance.now()`, in seconds; null while there is none. */
  timeAt(milliseconds: number): number | null;
}

export class NoteInput {
  private lastNoteId = 0;
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
    this.held.add(noteId);
    // Sound may first have to be let out; what is pressed meanwhile waits in its order.
    void this.engine.resume();
    this.engine.send({ type: 'note-on', noteId, partId, key, velocity, timeSeconds: this.timeOf(timeStamp) });
    return noteId;
  }

  /** Lets a press go; a second time does nothing. */
  release(noteId: number, timeStamp?: number): void {
    if (!this.held.delete(noteId)) return;
    this.engine.send({ type: 'note-off', noteId, timeSeconds: this.timeOf(timeStamp) });
  }

  /** Lets everything go. */
  releaseAll(): void {
    for (const noteId of [...this.held]) this.release(noteId);
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
