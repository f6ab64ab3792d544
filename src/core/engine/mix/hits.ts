/** What was struck in a channel last, with its frame: what gives way to it need not listen for it. */
/** As many as may start within a block of a part. */
const MOST = 128;
export class Hits {
  /** Absolute; the latest ones, in no order. */
  readonly frames = new Float64Array(MOST).fill(-Infinity);
  readonly groups = new Uint8Array(MOST);
  private at = 0;

  add(frame: number, group: number): void {
    this.frames[this.at] = frame;
    this.groups[this.at] = group;
    this.at = (this.at + 1) % MOST;
  }

  /** First frame from one to another, not included, at which something of a group was struck; -1 for none. @param group 0 is any */
  firstIn(fromFrame: number, toFrame: number, group: number): number {
    let first = Infinity;
    for (let i = 0; i < MOST; i++) {
      const frame = this.frames[i]!;
      if (frame < fromFrame || frame >= toFrame || frame >= first) continue;
      if (group === 0 || this.groups[i] === group) first = frame;
    }
    return first === Infinity ? -1 : first;
  }
}
