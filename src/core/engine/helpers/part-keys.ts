/** The keys of a part, as the helpers before them see and press them. */
import type { PartState } from '../part-state.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import { SONG, type SongState } from '../song-state.ts';
import { ZONE } from '../zone-state.ts';
import type { KeyGround, NoteSink, WayNote } from './way-note.ts';

/** Who presses keys. */
export interface KeyPresser {
  pressByHelper(part: PartState, note: WayNote): void;
  letGoByHelper(part: PartState, noteId: number): void;
  newNoteId(): number;
}

export class PartKeys implements KeyGround, NoteSink {
  readonly filled = new Uint8Array(128);
  readonly follows = new Uint8Array(128);

  constructor(
    private readonly part: PartState,
    private readonly song: SongState,
    private readonly presser: KeyPresser,
  ) {}

  get clock(): SongClock {
    return this.part.clockOr(this.song.clock);
  }

  get frame(): number {
    return this.song.frame;
  }

  get sampleRate(): number {
    return this.song.sampleRate;
  }

  get rootClass(): number {
    return Math.max(0, this.song.values[SONG.rootNote]! - 1);
  }

  look(): void {
    const { filled, follows, part } = this;
    filled.fill(0);
    follows.fill(0);
    for (const zone of part.zones.values()) {
      const { lowKey, highKey, playsPatternId } = zone.fragment;
      if (lowKey < 0 || playsPatternId !== null || !part.isHeard(zone)) continue;
      filled.fill(1, lowKey, highKey + 1);
      if (zone.values[ZONE.followsKey] !== 0 && highKey > lowKey) follows.fill(1, lowKey, highKey + 1);
    }
  }

  newNoteId(): number {
    return this.presser.newNoteId();
  }

  on(note: WayNote): void {
    this.presser.pressByHelper(this.part, note);
  }

  off(noteId: number): void {
    this.presser.letGoByHelper(this.part, noteId);
  }
}
