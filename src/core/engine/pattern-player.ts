/** A pattern that is being played: where it is, the zones that it names, and what the next start may be joined to. */
import { PatternCursor } from './sequence/pattern-cursor.ts';
import type { ZoneState } from './zone-state.ts';

/**
 * A part starts no more than this in a stretch of frames: twice the voices that there are in 6 ms. Beyond that nothing
 * could be told apart, and the audio thread would come too late for all the rest.
 */
const MOST_STARTS = 128;
const STRETCH_FRAMES = 256;

export class PatternPlayer {
  readonly cursor = new PatternCursor();
  /** The zones of the pattern, by their places in its list; null for those that are gone. */
  zones: (ZoneState | null)[] = [];
  /** Serial of the voice that the next start goes on from without a seam, and the place of that start; 0 for none. */
  joinSerial = 0;
  joinRound = 0;
  joinIndex = 0;

  private stretch = -1;
  private startsInStretch = 0;

  /** May another start be made at a frame of the song, or have there been too many just now? It is counted. */
  mayStart(frame: number): boolean {
    const stretch = Math.floor(frame / STRETCH_FRAMES);
    if (stretch !== this.stretch) this.startsInStretch = 0;
    this.stretch = stretch;
    return ++this.startsInStretch <= MOST_STARTS;
  }

  /** Finds the zones that the pattern names. */
  bind(zonesById: ReadonlyMap<string, ZoneState>): void {
    const ids = this.cursor.pattern?.zoneIds ?? [];
    this.zones = ids.map((zoneId) => zonesById.get(zoneId) ?? null);
  }
}
