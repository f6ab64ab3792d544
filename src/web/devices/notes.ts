/**
 * Keys as they are pressed and let go, by whatever device: each press has a number of its own, and letting go names that,
 * so that a release always finds what it belongs to, whatever part is chosen by then.
 */
import type { ToEngine } from '#core/engine/messages.ts';
import type { ControlEvent } from '#core/engine/sequence/notes.ts';
import type { SwitchPlace } from '#core/project/commands/switches.ts';

/** What notes are played on. */
export interface NoteEngine {
  resume(): Promise<void>;
  send(message: ToEngine): void;
  /** Time of the audio clock at a moment of `performance.now()`, in seconds; null while there is none. */
  timeAt(milliseconds: number): number | null;
}

export class NoteInput {
  /** Asked before a press sounds: true when it was waited for and is for something else. */
  awaits: ((partId: string, place: SwitchPlace) => boolean) | null = null;
  /** Asked before that: true when presses are taps, whatever key they are of. */
  taps: ((timeStamp?: number) => boolean) | null = null;
  /** Keys and controllers that play no sound. */
  switches: {
    isOne(partId: string, place: SwitchPlace): boolean;
    press(partId: string, place: SwitchPlace, noteId: number): boolean;
    release(noteId: number): void;
  } | null = null;
  private lastNoteId = 0;
  private readonly switching = new Set<number>();
  private readonly held = new Set<number>();
  /** Presses of controllers, by the part and their numbers. */
  private readonly controllers = new Map<string, number>();

  constructor(private readonly engine: NoteEngine) {}

  /**
   * Presses a key of a part.
   * @param velocity 0..1
   * @param timeStamp when, as events tell it; now when left out
   * @returns the press, to be let go by
   */
  press(partId: string, key: number, velocity: number, timeStamp?: number): number {
    const noteId = ++this.lastNoteId;
    if (this.taps?.(timeStamp) || this.awaits?.(partId, { key })) return noteId;
    if (this.switches?.press(partId, { key }, noteId)) {
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
    if (typeof control === 'number' && this.turnSwitch(partId, control, value)) return;
    this.engine.send({ type: 'control', partId, control, value });
  }

  /** A controller that switches is pressed from the middle of its way on. @returns true when it is one */
  private turnSwitch(partId: string, control: number, value: number): boolean {
    const name = `${partId} ${control}`;
    const pressed = this.controllers.get(name);
    if (pressed !== undefined) {
      if (value >= 0.5) return true;
      this.controllers.delete(name);
      this.release(pressed);
      return true;
    }
    const place = { key: null, control };
    if (value >= 0.5 && this.awaits?.(partId, place)) return true;
    if (value < 0.5) return this.switches?.isOne(partId, place) ?? false;
    const noteId = ++this.lastNoteId;
    if (!this.switches?.press(partId, place, noteId)) return false;
    this.switching.add(noteId);
    this.controllers.set(name, noteId);
    return true;
  }

  /** Lets the controllers of a part go that switch. */
  releaseControllers(partId: string): void {
    for (const [name, noteId] of this.controllers) {
      if (!name.startsWith(`${partId} `)) continue;
      this.controllers.delete(name);
      this.release(noteId);
    }
  }

  /** Everything falls silent at once. */
  allSoundOff(): void {
    this.held.clear();
    this.engine.send({ type: 'all-sound-off' });
  }

  /** Lets everything go. */
  releaseAll(): void {
    for (const noteId of [...this.held, ...this.switching]) this.release(noteId);
    this.controllers.clear();
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
