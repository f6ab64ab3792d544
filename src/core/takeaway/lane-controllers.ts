/** Lanes as controllers of a Standard MIDI File: another program draws and plays them on. */
import { homeId } from '../document/home-id.ts';
import type { Part, ProjectDocument } from '../document/schema.ts';
import type { MidiControl } from '../formats/midi-file.ts';
import { laneValue } from '../lanes/points.ts';
import type { LaidSection } from '../order/layout.ts';
import { laneLengthTicks, lanesOver, settingOfLane } from '../queries/lanes.ts';
import { partOfTarget } from '../queries/targets.ts';
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

const numberFor = (paramId: string, taken: ReadonlySet<number>): number | undefined => {
  const agreed = AGREED[paramId];
  return agreed !== undefined && !taken.has(agreed) ? agreed : FREE.find((one) => !taken.has(one));
};

/** The controller of each lane of a pattern, by the lane's id. Lanes that no number is left for are left out. */
function numbersOf(document: ProjectDocument, patternId: string): Map<string, number> {
  const taken = new Set<number>();
  const found = new Map<string, number>();
  for (const lane of lanesOver(document, patternId)) {
    const setting = settingOfLane(document, lane);
    const number = setting && numberFor(setting.paramId, taken);
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
  return controlsOf(document, patternId, numbersOf(document, patternId), forTicks);
}

function controlsOf(
  document: ProjectDocument,
  overId: string,
  numbers: ReadonlyMap<string, number>,
  forTicks: number,
): MidiControl[] {
  const found: MidiControl[] = [];
  for (const { id, points } of lanesOver(document, overId)) {
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

/**
 * The lanes over sections that move settings of a part; null: those of buses, the mix, dials. A setting has one number in
 * all sections, and none that a lane over a pattern of the part has.
 */
export function sectionControls(
  document: ProjectDocument,
  sections: readonly LaidSection[],
  part: Part | null,
): MidiControl[] {
  const patterns = Object.values(document.patterns).filter(({ partId }) => partId === part?.id);
  const overPatterns = [...patterns.map(({ id }) => id), ...(part?.cutOrder ?? []).map(homeId)];
  const taken = new Set(overPatterns.flatMap((id) => [...numbersOf(document, id).values()]));
  const bySetting = new Map<string, number>();
  return sections.flatMap(({ section, startTicks, roundTicks, repeats }) => {
    const numbers = new Map<string, number>();
    for (const lane of lanesOver(document, section.id)) {
      const setting = settingOfLane(document, lane);
      if (!setting || partOfTarget(document, setting.target)?.id !== part?.id) continue;
      const name = `${setting.target.kind} ${setting.target.id} ${setting.paramId}`;
      const number = bySetting.get(name) ?? numberFor(setting.paramId, taken);
      if (number === undefined) continue;
      taken.add(number);
      bySetting.set(name, number);
      numbers.set(lane.id, number);
    }
    return controlsOf(document, section.id, numbers, roundTicks * repeats).map((one) => ({
      ...one,
      positionTicks: one.positionTicks + startTicks,
    }));
  });
}
