/** One key, several notes; strummed, each note is the whole press a little later. */
import { SCALES } from '../../params/chords.ts';
import { CHORD, CHORD_ROWS } from '../../params/helper-rows/chord.ts';
import { MOST_NOTES } from '../../params/helpers.ts';
import { mix32 } from '../../units/hash.ts';
import { copyNote, plainNote } from './way-note.ts';
import { NoteHelper } from './helper.ts';
import type { WayNote } from './way-note.ts';

const [FILLED, SCALE] = ['filled', 'scale'].map((wanted) =>
  CHORD_ROWS.heldTo.choices.findIndex(({ value }) => value === wanted),
);
const DOWN = 1;
/** Chords that can be held at once, and notes that can be on their way. */
const MOST_HELD = 32;
const MOST_WAITING = 256;

/** Per scale, the way from each pitch class to the nearest of the scale, the lower of two equally near. */
const TO_SCALE = SCALES.map(({ steps }) =>
  Int8Array.from({ length: 12 }, (_, pitch) => {
    for (let away = 0; away < 12; away++) {
      if (steps.includes((pitch - away + 12) % 12)) return -away;
      if (steps.includes((pitch + away) % 12)) return away;
    }
    return 0;
  }),
);

interface HeldChord {
  inputId: number;
  count: number;
  noteIds: Int32Array;
  /** How much later than the first each came, in frames. */
  laterFrames: Int32Array;
}

interface Waiting {
  /** Infinity: free. */
  frame: number;
  isOn: boolean;
  note: WayNote;
}

export class ChordHelper extends NoteHelper {
  private readonly held = Array.from({ length: MOST_HELD }, (): HeldChord => ({
    inputId: -1,
    count: 0,
    noteIds: new Int32Array(MOST_NOTES),
    laterFrames: new Int32Array(MOST_NOTES),
  }));
  private readonly waiting = Array.from({ length: MOST_WAITING }, (): Waiting => ({
    frame: Infinity,
    isOn: true,
    note: plainNote(),
  }));
  private waitingCount = 0;
  private readonly keys = new Int16Array(MOST_NOTES);
  private readonly out = plainNote();

  on(note: WayNote): void {
    const { now, out, keys } = this;
    const count = this.findKeys(note.key);
    const strumFrames = (now[CHORD.strumMs]! / 1000) * this.ground.sampleRate;
    const isDown = now[CHORD.strums] === DOWN;
    const { strengths } = this.fragment;
    const chord = this.freeChord();
    chord.inputId = note.noteId;
    chord.count = count;
    for (let turn = 0; turn < count; turn++) {
      const place = isDown ? count - 1 - turn : turn;
      copyNote(note, out);
      out.noteId = this.ground.newNoteId();
      out.pressId = note.pressId;
      out.key = keys[place]!;
      out.velocity = note.velocity * (strengths[place] ?? 1);
      out.seed = mix32(note.seed, place);
      const later = Math.round(turn * strumFrames);
      chord.noteIds[turn] = out.noteId;
      chord.laterFrames[turn] = later;
      if (later === 0) this.next.on(out);
      else this.wait(later, true, out);
    }
  }

  off(noteId: number): void {
    for (const chord of this.held) {
      if (chord.count === 0 || chord.inputId !== noteId) continue;
      this.end(chord);
      return;
    }
    this.next.off(noteId);
  }

  private end(chord: HeldChord): void {
    const { count } = chord;
    chord.count = 0;
    for (let turn = 0; turn < count; turn++) {
      this.out.noteId = chord.noteIds[turn]!;
      if (chord.laterFrames[turn] === 0) this.next.off(this.out.noteId);
      else this.wait(chord.laterFrames[turn]!, false, this.out);
    }
  }

  /** The keys of the chord over a key, from the lowest up, each once. @returns how many */
  private findKeys(key: number): number {
    const { now, keys } = this;
    const { intervals } = this.fragment;
    const heldTo = now[CHORD.heldTo];
    if (heldTo === FILLED) this.ground.look();
    let count = 0;
    for (const interval of intervals) {
      const wanted = key + interval;
      const found =
        heldTo === FILLED ? this.nearestFilled(wanted, count) : heldTo === SCALE ? this.inScale(wanted) : wanted;
      if (found < 0 || found > 127 || this.has(found, count)) continue;
      keys[count++] = found;
    }
    return count;
  }

  private has(key: number, count: number): boolean {
    for (let i = 0; i < count; i++) if (this.keys[i] === key) return true;
    return false;
  }

  /** The nearest filled key that is not in the chord yet, the lower of two equally near; -1 when there is none. */
  private nearestFilled(wanted: number, count: number): number {
    const { filled } = this.ground;
    for (let away = 0; away < 128 + Math.abs(wanted); away++) {
      const below = wanted - away;
      if (filled[below] === 1 && !this.has(below, count)) return below;
      const above = wanted + away;
      if (filled[above] === 1 && !this.has(above, count)) return above;
    }
    return -1;
  }

  private inScale(wanted: number): number {
    const { now } = this;
    const said = now[CHORD.scaleRoot]! - 1;
    const root = said >= 0 ? said : this.ground.rootClass;
    return wanted + TO_SCALE[now[CHORD.scale]!]![(((wanted - root) % 12) + 12) % 12]!;
  }

  private wait(laterFrames: number, isOn: boolean, note: WayNote): void {
    let free: Waiting | null = null;
    for (let i = 0; i < MOST_WAITING && !free; i++) if (this.waiting[i]!.frame === Infinity) free = this.waiting[i]!;
    // So many notes on their way: this one is heard now.
    if (!free) {
      if (isOn) this.next.on(note);
      else this.next.off(note.noteId);
      return;
    }
    free.frame = this.ground.frame + laterFrames;
    free.isOn = isOn;
    copyNote(note, free.note);
    this.waitingCount++;
  }

  override runReleases(): void {
    this.runWaiting(false);
  }

  run(): void {
    this.runWaiting(true);
  }

  private runWaiting(isOn: boolean): void {
    if (this.waitingCount === 0) return;
    const { frame, clock } = this.ground;
    for (const one of this.waiting) {
      if (one.frame > frame || one.isOn !== isOn) continue;
      one.frame = Infinity;
      this.waitingCount--;
      one.note.ticks = clock.ticksAt(frame);
      if (isOn) this.next.on(one.note);
      else this.next.off(one.note.noteId);
    }
  }

  get nextFrame(): number {
    if (this.waitingCount === 0) return Infinity;
    let next = Infinity;
    for (const { frame } of this.waiting) next = Math.min(next, frame);
    return next;
  }

  letGo(): void {
    for (const one of this.waiting) one.frame = Infinity;
    this.waitingCount = 0;
    for (const chord of this.held) {
      const { count } = chord;
      chord.count = 0;
      for (let turn = 0; turn < count; turn++) this.next.off(chord.noteIds[turn]!);
    }
  }

  endPatterns(): void {
    for (const one of this.waiting) {
      if (one.frame === Infinity || !one.isOn || !one.note.isOfPattern) continue;
      one.frame = Infinity;
      this.waitingCount--;
    }
  }

  private freeChord(): HeldChord {
    for (const chord of this.held) if (chord.count === 0) return chord;
    this.end(this.held[0]!);
    return this.held[0]!;
  }
}
