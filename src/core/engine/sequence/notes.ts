/** Notes that come in with their time, and a log of what sounded. */
import type { PlayedNote } from '../../strips/played-note.ts';

/** A key pressed or let go. */
export interface NoteEvent {
  kind: 'on' | 'off';
  /** Names the press: letting go names the same. */
  noteId: number;
  partId: string;
  key: number;
  /** 0..1 */
  velocity: number;
  /** Frame of the renderer at which it was played; what lies in the past sounds at once. */
  frame: number;
}

/** A wheel, pedal or controller of a part is moved. */
export interface ControlEvent {
  partId: string;
  /** A controller's number, 0..127, or one of the two that have none. */
  control: number | 'bend' | 'pressure';
  /** 0..1; of the wheel -1..1. */
  value: number;
}

/** Notes in the order of their frames. */
export class NoteQueue {
  private readonly waiting: NoteEvent[] = [];

  /** A release never lies before its press: what tells their times may put them the other way round. */
  add(event: NoteEvent): void {
    const press =
      event.kind === 'off' && this.waiting.find(({ kind, noteId }) => kind === 'on' && noteId === event.noteId);
    const frame = press ? Math.max(press.frame, event.frame) : event.frame;
    let at = this.waiting.length;
    while (at > 0 && this.waiting[at - 1]!.frame > frame) at--;
    this.waiting.splice(at, 0, { ...event, frame });
  }

  /** Frame of the first that waits; Infinity when none does. */
  get nextFrame(): number {
    return this.waiting[0]?.frame ?? Infinity;
  }

  /** Takes the first that is due. */
  take(frame: number): NoteEvent | null {
    return this.nextFrame <= frame ? this.waiting.shift()! : null;
  }
}

/** Notes kept until they are fetched; the oldest go first. */
const CAPACITY = 1024;

/** A ring of notes, made once: writing one allocates nothing. */
export class NoteLog {
  private readonly ring: PlayedNote[] = Array.from({ length: CAPACITY }, () => ({
    kind: 'on',
    origin: 'key',
    frame: 0,
    songTicks: null,
    partId: '',
    zoneId: '',
    key: -1,
    velocity: 0,
    noteId: -1,
    cents: 0,
    isEcho: false,
    lengthTicks: 0,
  }));
  private written = 0;
  private fetched = 0;

  /** The next entry to be filled in. */
  write(): PlayedNote {
    return this.ring[this.written++ % CAPACITY]!;
  }

  /** What came since the last call. */
  takeAll(): PlayedNote[] {
    const from = Math.max(this.fetched, this.written - CAPACITY);
    const notes = Array.from({ length: this.written - from }, (_, i) => ({ ...this.ring[(from + i) % CAPACITY]! }));
    this.fetched = this.written;
    return notes;
  }
}
