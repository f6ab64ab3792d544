/** Which sounds of a part a press reaches, and how much of each: layers by strength, turns, chance. */
import { hashed01 } from '../units/hash.ts';
import type { PartState } from './part-state.ts';
import { layerGain, strengthOf, velocityStep } from './voice/strength.ts';
import { ZONE, type ZoneState } from './zone-state.ts';

/** Places of the choices: how several sounds on one key share it. */
const IN_TURN = 1;
const BY_CHANCE = 2;
/** More sounds on one key than anybody lays there. */
const MAX_LAYERS = 64;

export class ReachedZones {
  /** Made once. */
  readonly zones: (ZoneState | null)[] = new Array<ZoneState | null>(MAX_LAYERS).fill(null);
  readonly gains = new Float64Array(MAX_LAYERS);
  count = 0;

  /** Finds them. @param isAgain what is heard again is what was heard before: no turn passes */
  find(part: PartState, key: number, velocity: number, chanceSeed: number, isAgain = false): void {
    const { zones, gains } = this;
    let count = 0;
    let takingTurns = 0;
    let byChance = 0;
    for (const zone of part.zones.values()) {
      const { lowKey, highKey } = zone.fragment;
      if (lowKey < 0 || key < lowKey || key > highKey || !part.isHeard(zone) || count === MAX_LAYERS) continue;
      const gain = layerGain(zone.fragment, velocityStep(strengthOf(zone, velocity)));
      if (gain === 0) continue;
      zones[count] = zone;
      gains[count] = gain;
      count++;
      if (zone.values[ZONE.turn] === IN_TURN) takingTurns++;
      else if (zone.values[ZONE.turn] === BY_CHANCE) byChance++;
    }
    this.count = count;
    if (takingTurns + byChance === 0) return;
    if (takingTurns > 0 && !isAgain) part.turns[key]!++;
    const turn = takingTurns > 0 ? Math.max(0, part.turns[key]! - 1) % takingTurns : -1;
    const drawn = byChance > 0 ? Math.floor(hashed01(chanceSeed, key) * byChance) : -1;
    this.keepChosen(turn, drawn);
  }

  /** Of those that share a key one after another, or by chance, one is left of each. */
  private keepChosen(turn: number, drawn: number): void {
    const { zones, gains } = this;
    let kept = 0;
    let ofTurns = 0;
    let ofChance = 0;
    for (let i = 0; i < this.count; i++) {
      const zone = zones[i]!;
      const how = zone.values[ZONE.turn];
      if (how === IN_TURN ? ofTurns++ !== turn : how === BY_CHANCE && ofChance++ !== drawn) continue;
      zones[kept] = zone;
      gains[kept] = gains[i]!;
      kept++;
    }
    zones.fill(null, kept, this.count);
    this.count = kept;
  }

  /** Id of the first; '' where nothing is reached. */
  get firstId(): string {
    return this.count > 0 ? this.zones[0]!.fragment.id : '';
  }

  forget(): void {
    this.zones.fill(null, 0, this.count);
    this.count = 0;
  }
}
