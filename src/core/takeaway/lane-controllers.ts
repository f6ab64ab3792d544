/** Lanes as controllers of a Standard MIDI File: another program draws and plays them on. */
import type { ProjectDocument } from '../document/schema.ts';
import type { MidiControl } from '../formats/midi-file.ts';
import { laneValue } from '../lanes/points.ts';
import { laneLengthTicks, lanesOver, settingOfLane } from '../queries/lanes.ts';
import { TICKS_PER_BEAT } from '../units/time.ts';

/**
 * What a setting is by agreement: volume, pan, resonance, cutoff ("MIDI 1.0 Detailed Specification", table III; "Sound
 * Controllers", MIDI Manufacturers Association RP-021).
 */
const AGREED: Readonly<Record<string, number>> = { gainDb: 7, pan: 10, resonance: 71, cutoffHz: 74 };
/** Free for what has no number by agreement: general purpose 1 to 8, then those that nobody has given a meaning. */
const FREE = [16, 17, 18, 19, 80, 81, 82, 83, ...Array.from({ length: 18 }, (_, place) => 102 + place)];
/** A value is told so often, where it has changed. */
const STEP_TICKS = TICKS_PER_BEAT / 24;

/** The controller of each lane of a pattern, by the lane's id. Lanes that no number is left for are left out. */
function numbersOf(document: ProjectDocument, patternId: string): Map<string, number> {
  const taken = new Set<number>();
  const found = new Map<string, number>();
  for (const lane of lanesOver(document, patternId)) {
    const setting = settingOfLane(document, lane);
    if (!setting) continue;
    const agreed = AGREED[setting.paramId];
    const number = agreed !== undefined && !taken.has(agreed) ? agreed : FREE.find((one) => !taken.has(one));
    if (number === undefined) continue;
    taken.add(number);
    found.set(lane.id, number);
  }
  return found;
}

/**
 * The lanes over a pattern, for so long from its start: from the bottom of each lane's range (0) to its top (127).
 * @param forTicks several rounds are gone round as they are played
 */
export function laneControls(document: ProjectDocument, patternId: string, forTicks: number): MidiControl[] {
  const numbers = numbersOf(document, patternId);
  const found: MidiControl[] = [];
  for (const { id, points } of lanesOver(document, patternId)) {
    const number = numbers.get(id);
    if (number === undefined) continue;
    const roundTicks = laneLengthTicks(document, id);
    let last = -1;
    for (let ticks = 0; ticks < forTicks; ticks += STEP_TICKS) {
      const value = Math.round(laneValue(points, ticks % roundTicks) * 127);
      if (value === last) continue;
      found.push({ number, value, positionTicks: ticks });
      last = value;
    }
  }
  return found;
}
