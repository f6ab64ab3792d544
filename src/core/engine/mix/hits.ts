/** What was struck in a channel last, with its frame: what gives way to it need not listen for it. */
/** Stands for whatever a key pressed: behind the groups of queries/hit-groups.ts. */
export const BY_KEY = 4;
/** As many as may start within a block of a part. */
const MOST = 128;
export class Hits {
  /** Absolute; the latest ones, in no order. */
  readonly frames = new Float64Array(MOST).fill(-Infinity);
  readonly groups = new Uint8Array(MOST);
  /** MIDI note that pressed it; -1 where none did. */
  readonly keys = new Int16Array(MOST).fill(-1);
  private at = 0;

  add(frame: number, group: number, key = -1): void {
    this.frames[this.at] = frame;
    this.keys[this.at] = key;
    this.groups[this.at] = group;
    this.at = (this.at + 1) % MOST;
  }

  /** First frame from one to another, not included, at which something of a group was struck; -1 for none. @param group 0 is any, {@link BY_KEY} what a key pressed */
  firstIn(fromFrame: number, toFrame: number, group: number): number {
    let first = Infinity;
    for (let i = 0; i < MOST; i++) {
      const frame = this.frames[i]!;
      if (frame < fromFrame || frame >= toFrame || frame >= first) continue;
      if (group === 0 || (group === BY_KEY ? this.keys[i]! >= 0 : this.groups[i] === group)) first = frame;
    }
    return first === Infinity ? -1 : first;
  }

  /** The key that was pressed last before a frame; -1 when none was. */
  lastKeyBefore(untilFrame: number): number {
    let latest = -Infinity;
    let key = -1;
    for (let i = 0; i < MOST; i++) {
      const frame = this.frames[i]!;
      if (this.keys[i]! < 0 || frame >= untilFrame || frame < latest) continue;
      latest = frame;
      key = this.keys[i]!;
    }
    return key;
  }
}
