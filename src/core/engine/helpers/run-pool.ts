/** What a runner goes through: the keys that are held, or all that play something, as many octaves as wanted. */
import { copyNote, plainNote, type KeyGround, type WayNote } from './way-note.ts';
import { MOST_RUN } from './orders.ts';

/** Keys that can be held at once. */
const MOST_HELD = 64;

export interface HeldNote {
  isTaken: boolean;
  /** Its key is down still; else it is only latched. */
  isDown: boolean;
  /** Counts the presses: what came first. */
  serial: number;
  note: WayNote;
}

export class RunPool {
  readonly held: readonly HeldNote[] = Array.from({ length: MOST_HELD }, () => ({
    isTaken: false,
    isDown: false,
    serial: 0,
    note: plainNote(),
  }));
  /** How many are held or latched. */
  heldCount = 0;
  count = 0;
  /** Key of each sound, how many octaves higher by pitch, and the place among `held` of what it is played as. */
  readonly key = new Int16Array(MOST_RUN);
  readonly octavesByPitch = new Int8Array(MOST_RUN);
  readonly heldPlace = new Int16Array(MOST_RUN);
  private serial = 0;
  private readonly sorted = new Int16Array(MOST_HELD);

  /** Is any key down? */
  get isAnyDown(): boolean {
    for (const { isTaken, isDown } of this.held) if (isTaken && isDown) return true;
    return false;
  }

  /** A key is pressed; where too many are held it is passed over. */
  add(note: WayNote): void {
    for (const one of this.held) {
      if (one.isTaken) continue;
      one.isTaken = one.isDown = true;
      one.serial = ++this.serial;
      copyNote(note, one.note);
      this.heldCount++;
      return;
    }
  }

  /** @returns the one of a press; null when it is none of these */
  find(noteId: number): HeldNote | null {
    for (const one of this.held) if (one.isTaken && one.note.noteId === noteId) return one;
    return null;
  }

  drop(one: HeldNote): void {
    one.isTaken = one.isDown = false;
    this.heldCount--;
  }

  dropAll(): void {
    for (const one of this.held) if (one.isTaken) this.drop(one);
  }

  /** Lists what there is to go through. @param asPlayed in the order of the presses, and not of the keys */
  fill(ground: KeyGround, isFilled: boolean, octaves: number, asPlayed: boolean): void {
    this.count = 0;
    const taken = this.sort(asPlayed && !isFilled);
    if (taken === 0) return;
    ground.look();
    if (!isFilled) {
      for (let octave = 0; octave < octaves; octave++)
        for (let i = 0; i < taken; i++) {
          const place = this.sorted[i]!;
          this.put(this.held[place]!.note.key, octave, place, ground);
        }
      return;
    }
    // From the key on that was pressed last: other keys begin the loop elsewhere.
    const latest = this.latestPlace();
    const from = this.held[latest]!.note.key;
    for (let octave = 0; octave < octaves; octave++)
      for (let i = 0; i < 128; i++) {
        const key = (from + i) % 128;
        if (ground.filled[key] === 1) this.put(key, octave, latest, ground);
      }
  }

  private put(key: number, octave: number, place: number, { filled, follows }: KeyGround): void {
    const at = this.count;
    if (at >= MOST_RUN) return;
    const above = key + 12 * octave;
    const isOnKey = octave === 0 || (above < 128 && filled[above] === 1 && follows[above] === 1);
    this.key[at] = isOnKey ? above : key;
    this.octavesByPitch[at] = isOnKey ? 0 : octave;
    this.heldPlace[at] = place;
    this.count++;
  }

  private latestPlace(): number {
    let latest = -1;
    for (let i = 0; i < MOST_HELD; i++) {
      const { isTaken, serial } = this.held[i]!;
      if (isTaken && (latest < 0 || serial > this.held[latest]!.serial)) latest = i;
    }
    return latest;
  }

  /** Places of those that are held, by keys or by presses; by insertion, they are few. @returns how many */
  private sort(byPress: boolean): number {
    const { sorted, held } = this;
    let count = 0;
    for (let i = 0; i < MOST_HELD; i++) {
      if (!held[i]!.isTaken) continue;
      let at = count++;
      while (at > 0 && isAfter(held[sorted[at - 1]!]!, held[i]!, byPress)) {
        sorted[at] = sorted[at - 1]!;
        at--;
      }
      sorted[at] = i;
    }
    return count;
  }
}

function isAfter(a: HeldNote, b: HeldNote, byPress: boolean): boolean {
  if (byPress || a.note.key === b.note.key) return a.serial > b.serial;
  return a.note.key > b.note.key;
}
