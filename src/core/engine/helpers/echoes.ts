/** Echoes of notes: each weaker than the one before, and higher or lower if wanted. */
import { NOTE_QUARTERS } from '../../params/effect-rows/common.ts';
import { ECHOES } from '../../params/helper-rows/echoes.ts';
import { mix32 } from '../../units/hash.ts';
import { TICKS_PER_BEAT } from '../../units/time.ts';
import { LATE_FRAMES, NoteHelper } from './helper.ts';
import { copyNote, plainNote, type WayNote } from './way-note.ts';

const WHILE_HELD = 1;
/** Notes whose echoes sound at once; of more, the first make room. */
const MOST_LINES = 64;
/** Weaker than this nothing is struck, as MIDI tells it. */
const LEAST_VELOCITY = 0.5 / 127;

interface Line {
  isOn: boolean;
  note: WayNote;
  velocity: number;
  /** Echoes so far, and where the last of them, or the note, was. */
  count: number;
  lastTicks: number;
  serial: number;
}

export class EchoesHelper extends NoteHelper {
  override readonly isAnswer = true;
  private readonly lines = Array.from({ length: MOST_LINES }, (): Line => ({
    isOn: false,
    note: plainNote(),
    velocity: 0,
    count: 0,
    lastTicks: 0,
    serial: 0,
  }));
  private readonly out = plainNote();
  private lineCount = 0;
  private serial = 0;

  on(note: WayNote): void {
    this.next.on(note);
    const line = this.freeLine();
    line.isOn = true;
    copyNote(note, line.note);
    line.velocity = note.velocity;
    line.count = 0;
    line.lastTicks = note.ticks;
    line.serial = ++this.serial;
    this.lineCount++;
  }

  off(noteId: number): void {
    this.next.off(noteId);
    if (this.now[ECHOES.until] !== WHILE_HELD) return;
    for (const line of this.lines) if (line.isOn && line.note.noteId === noteId) this.end(line);
  }

  private freeLine(): Line {
    let oldest = this.lines[0]!;
    for (const line of this.lines) {
      if (!line.isOn) return line;
      if (line.serial < oldest.serial) oldest = line;
    }
    this.end(oldest);
    return oldest;
  }

  private end(line: Line): void {
    line.isOn = false;
    this.lineCount--;
  }

  private get stepTicks(): number {
    return NOTE_QUARTERS[this.now[ECHOES.rate]!]! * TICKS_PER_BEAT;
  }

  run(): void {
    if (this.lineCount === 0) return;
    const { ground, stepTicks } = this;
    for (const line of this.lines) {
      if (!line.isOn) continue;
      let ticks = line.lastTicks + stepTicks;
      while (ground.clock.frameAt(ticks) < ground.frame - LATE_FRAMES) ticks += stepTicks;
      if (ground.clock.frameAt(ticks) <= ground.frame) this.echo(line, ticks);
      else line.lastTicks = ticks - stepTicks;
    }
  }

  private echo(line: Line, ticks: number): void {
    const { now, out, ground, stepTicks } = this;
    line.count++;
    line.lastTicks = ticks;
    line.velocity *= 1 - now[ECHOES.fallPercent]! / 100;
    const isLast = now[ECHOES.endless] === 0 && line.count >= now[ECHOES.count]!;
    if (line.velocity < LEAST_VELOCITY) {
      this.end(line);
      return;
    }
    copyNote(line.note, out);
    out.noteId = out.pressId = ground.newNoteId();
    out.velocity = line.velocity;
    out.isEcho = true;
    out.cents = line.note.cents + line.count * now[ECHOES.shiftCents]!;
    out.seed = mix32(line.note.seed, line.count);
    out.ticks = ticks;
    out.cutTicks = ticks + (stepTicks * now[ECHOES.gatePercent]!) / 100;
    if (isLast) this.end(line);
    this.next.on(out);
    this.endAt(out.noteId, out.cutTicks);
  }

  get nextFrame(): number {
    let next = this.releases.nextFrame;
    if (this.lineCount === 0) return next;
    const { ground, stepTicks } = this;
    for (const { isOn, lastTicks } of this.lines) {
      if (isOn) next = Math.min(next, ground.clock.frameAt(lastTicks + stepTicks));
    }
    return next;
  }

  letGo(): void {
    this.releases.endAll();
  }

  override forget(): void {
    for (const line of this.lines) if (line.isOn) this.end(line);
    this.releases.endAll();
  }

  endPatterns(): void {
    const isEndless = this.now[ECHOES.endless] !== 0;
    for (const line of this.lines) if (line.isOn && (isEndless || line.note.isOfPattern)) this.end(line);
  }

  override shift(ticks: number): void {
    super.shift(ticks);
    for (const line of this.lines) line.lastTicks += ticks;
  }
}
