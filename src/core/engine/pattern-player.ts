/** A pattern that is being played: where it is, the zones that it names, and what the next start may be joined to. */
import { PatternCursor } from './sequence/pattern-cursor.ts';
import type { ZoneState } from './zone-state.ts';

export class PatternPlayer {
  readonly cursor = new PatternCursor();
  /** The zones of the pattern, by their places in its list; null for those that are gone. */
  zones: (ZoneState | null)[] = [];
  /** Serial of the voice that the next start goes on from without a seam, and the place of that start; 0 for none. */
  joinSerial = 0;
  joinRound = 0;
  joinIndex = 0;

  /** Finds the zones that the pattern names. */
  bind(zonesById: ReadonlyMap<string, ZoneState>): void {
    const ids = this.cursor.pattern?.zoneIds ?? [];
    this.zones = ids.map((zoneId) => zonesById.get(zoneId) ?? null);
  }
}
