/** The way that notes take to the keys of a part: through its helpers in their order, those that are off left out. */
import type { HelperKind } from '../../params/helpers.ts';
import { isSameList } from '../../units/same-list.ts';
import type { OwnerValues } from '../control/owner-values.ts';
import type { HelperFragment } from '../plan/fragments.ts';
import { ChordHelper } from './chord.ts';
import { EchoesHelper } from './echoes.ts';
import type { NoteHelper } from './helper.ts';
import { RunnerHelper } from './runner.ts';
import type { KeyGround, NoteSink, WayNote } from './way-note.ts';

const KINDS: Readonly<
  Record<HelperKind, new (fragment: HelperFragment, ground: KeyGround, end: NoteSink) => NoteHelper>
> = { chord: ChordHelper, runner: RunnerHelper, echoes: EchoesHelper };

/** What is known of a helper from outside. */
export interface HelperStatus {
  id: string;
  heldKeys: readonly number[];
  nextKey: number;
}

/** Presses that have come in and are not let go, at most. */
const MOST_INPUTS = 128;

export class NoteWay {
  private readonly byId = new Map<string, NoteHelper>();
  /** Those that are on, in their order. */
  private line: readonly NoteHelper[] = [];
  private readonly inputs = new Int32Array(MOST_INPUTS).fill(-1);
  private readonly inputKeys = new Int16Array(MOST_INPUTS);

  /** @param keys what the way leads to */
  constructor(
    private readonly ground: KeyGround,
    private readonly keys: NoteSink,
  ) {}

  /** Is there anything on the way? */
  get isThere(): boolean {
    return this.line.length > 0;
  }

  ownerOf(id: string): OwnerValues | null {
    return this.byId.get(id)?.owner ?? null;
  }

  /** Follows its helpers; where the way is another, what was pressed by way of the old one is let go. */
  take(fragments: readonly HelperFragment[]): void {
    const on = fragments.filter(({ isOn }) => isOn).map(({ id }) => id);
    const before = this.line.map(({ fragment }) => fragment.id);
    const isSameWay = isSameList(on, before);
    if (!isSameWay) {
      for (const one of this.line) one.letGo();
      // What comes by another way than before would never be let go.
      const same = on.findIndex((id, place) => id !== before[place]);
      for (const one of this.line.slice(same < 0 ? on.length : same)) one.forget();
    }
    const there = new Set(fragments.map(({ id }) => id));
    for (const id of this.byId.keys()) if (!there.has(id)) this.byId.delete(id);
    for (const fragment of fragments) {
      const known = this.byId.get(fragment.id);
      if (known) known.take(fragment);
      else this.byId.set(fragment.id, new KINDS[fragment.kind](fragment, this.ground, this.keys));
    }
    if (isSameWay) return;
    this.line = on.map((id) => this.byId.get(id)!);
    this.line.forEach((one, place) => (one.next = this.line[place + 1] ?? this.keys));
    if (this.line.length === 0) this.inputs.fill(-1);
  }

  /** A press comes in. */
  on(note: WayNote): void {
    const free = this.inputs.indexOf(-1);
    if (free >= 0) {
      this.inputs[free] = note.noteId;
      this.inputKeys[free] = note.key;
    }
    this.line[0]!.on(note);
  }

  /** @returns whether the press had come in here */
  off(noteId: number): boolean {
    const at = this.inputs.indexOf(noteId);
    if (noteId === -1 || at < 0) return false;
    this.inputs[at] = -1;
    this.line[0]?.off(noteId);
    return true;
  }

  /** The key of a press that has come in; -1 for none of these. */
  keyOf(noteId: number): number {
    const at = noteId === -1 ? -1 : this.inputs.indexOf(noteId);
    return at < 0 ? -1 : this.inputKeys[at]!;
  }

  /** Lets go what ends, and plays what answers: before anything is pressed on this frame. */
  runAnswers(): void {
    const { line } = this;
    for (let i = 0; i < line.length; i++) line[i]!.runReleases();
    for (let i = 0; i < line.length; i++) if (line[i]!.isAnswer) line[i]!.run();
  }

  /** Plays all that is due: after all that is pressed on this frame, so that a chord of strips is one. */
  run(): void {
    const { line } = this;
    for (let i = 0; i < line.length; i++) line[i]!.run();
  }

  /** Frame of what is due next; Infinity when nothing is. */
  get nextFrame(): number {
    let next = Infinity;
    const { line } = this;
    for (let i = 0; i < line.length; i++) next = Math.min(next, line[i]!.nextFrame);
    return next;
  }

  /** The song stops, or ends: nothing of patterns goes on, and nothing for ever. */
  endPatterns(): void {
    for (const one of this.line) one.endPatterns();
  }

  /** Nothing is held, latched or still to come. */
  forget(): void {
    for (const one of this.line) one.forget();
    this.inputs.fill(-1);
  }

  /** The song has been put elsewhere, by so many ticks. */
  shift(ticks: number): void {
    for (const one of this.line) one.shift(ticks);
  }

  get status(): HelperStatus[] {
    return this.line.map((one) => ({ id: one.fragment.id, heldKeys: one.heldKeys, nextKey: one.nextKey }));
  }
}
