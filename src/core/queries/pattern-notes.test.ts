import { describe, expect, it } from 'vitest';
import { spreadZone } from '../project/commands/lay.ts';
import { moveEvents } from '../project/commands/events.ts';
import { setSliceRole } from '../project/commands/slices.ts';
import type { ProjectDocument } from '../document/schema.ts';
import type { Role } from '../analysis/role-names.ts';
import { deal } from '../project/commands/deal.ts';
import { copyPattern } from '../project/commands/patterns.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { setEvents } from '../../../tests/support/edits.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { eventsOf } from './patterns.ts';
import { notesToStrips, patternNotes } from './pattern-notes.ts';
import { zonesOfPart, type PlacedZone } from './zones.ts';

function table() {
  const { audio, starts } = eightStepLoop();
  const made = loopProject(audio, starts);
  const document = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, made.env));
  const part = document.parts[made.partId]!;
  return { ...made, document, part, patternId: part.activePatternId };
}

describe('patterns as notes', () => {
  it('each strip lies on the key of its sound, repeats are spread out', () => {
    const { document, part, patternId } = table();
    const low = zonesOfPart(document, part)[0]!.keys!.low;
    const ids = eventsOf(document, patternId).map(({ id }) => id);
    const settings = { repeats: 2, velocity: 0.5 };
    const after = unwrap(setEvents(document, { patternId, eventIds: [ids[7]!], settings }));
    const { notes, without } = patternNotes(after, part, patternId);
    expect(without).toBe(0);
    expect(notes.map(({ key }) => key - low)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 7]);
    expect(
      notes.slice(-2).map(({ positionTicks, lengthTicks, velocity }) => [positionTicks, lengthTicks, velocity]),
    ).toEqual([
      [3360, 240, 0.5],
      [3600, 240, 0.5],
    ]);
  });

  it('and back: the same sounds at the same places; other keys find none and are counted', () => {
    const { document, part, patternId, env } = table();
    const ids = eventsOf(document, patternId).map(({ id }) => id);
    const moved = unwrap(moveEvents(document, { patternId, eventIds: [ids[3]!], byTicks: 33.5 }, env));
    const { notes } = patternNotes(moved, part, patternId);
    const { strips, without } = notesToStrips(moved, part, [...notes, { ...notes[0]!, key: 3 }], 'key');
    expect(without).toBe(1);
    const plain = (events: readonly { zoneId: string; positionTicks: number; lengthTicks: number }[]) =>
      events.map(({ zoneId, positionTicks, lengthTicks }) => [zoneId, positionTicks, lengthTicks]);
    expect(plain(strips)).toEqual(plain(eventsOf(moved, patternId)));
  });

  it('over several keys a sound is tuned by the key, both ways', () => {
    const { document, part, patternId, env } = table();
    const { zone } = zonesOfPart(document, part)[0]!;
    const spread = unwrap(spreadZone(document, { zoneId: zone.id, keys: { low: 90, high: 110, root: 100 } }, env));
    const current = spread.parts[part.id]!;
    const note = { key: 107, velocity: 1, positionTicks: 0, lengthTicks: 480 };
    const { strips } = notesToStrips(spread, current, [note], 'key');
    expect(strips[0]).toMatchObject({ zoneId: zone.id, values: { tuneCents: 700 } });
    const id = eventsOf(spread, patternId)[0]!.id;
    const tuned = unwrap(setEvents(spread, { patternId, eventIds: [id], settings: { tuneCents: 700 } }));
    expect(patternNotes(tuned, tuned.parts[part.id]!, patternId).notes[0]!.key).toBe(107);
  });

  it('by role: the keys of drums by agreement find sounds of those roles', () => {
    const { document: plain, part, cutId, env } = table();
    const placed = zonesOfPart(plain, part);
    const [kick, snare] = [placed[2]!, placed[5]!];
    const named = (current: ProjectDocument, { at }: PlacedZone, role: Role) =>
      unwrap(setSliceRole(current, { cutId, sliceIds: [at.slice.id], role }, env));
    const others = placed.reduce((current, one) => named(current, one, 'tom'), plain);
    const document = named(named(others, kick, 'kick'), snare, 'snare');
    // General MIDI System Level 1, percussion key map: 36 is a bass drum, 38 a snare.
    const notes = [36, 38, 81].map((key, i) => ({ key, velocity: 1, positionTicks: i * 480, lengthTicks: 240 }));
    const { strips, without } = notesToStrips(document, part, notes, 'role');
    expect(strips.map(({ zoneId }) => zoneId)).toEqual([kick.zone.id, snare.zone.id]);
    // 81 is an open triangle: there is no percussion in this part.
    expect(without).toBe(1);
  });
});

describe('one sound and one hand', () => {
  it('all notes as a melody of one sound, whatever key each has', () => {
    const { document, part } = table();
    const [, second] = zonesOfPart(document, part);
    const root = second!.keys!.root;
    const notes = [root, root + 7, root - 60].map((key, place) => ({
      key,
      velocity: 1,
      positionTicks: place * 480,
      lengthTicks: 240,
    }));
    const { strips, without } = notesToStrips(document, part, notes, 'pitch', second!.zone.id);
    expect(without).toBe(0);
    expect(new Set(strips.map(({ zoneId }) => zoneId))).toEqual(new Set([second!.zone.id]));
    expect(strips.map(({ values }) => values.tuneCents)).toEqual([undefined, 700, -4800]);
  });

  it('another hand than the one on the table', () => {
    const { document, part, patternId, env, partId } = table();
    const dealt = unwrap(deal(document, { partId, reachPercent: 100, seed: 3 }, env));
    const { handOrder } = dealt.patterns[patternId]!;
    const keys = (handId: string | null) => patternNotes(dealt, part, patternId, handId).notes.map(({ key }) => key);
    expect(keys(handOrder[0]!)).toEqual(patternNotes(document, part, patternId).notes.map(({ key }) => key));
    expect(keys(null)).toEqual(keys(handOrder[1]!));
    expect(keys(null)).not.toEqual(keys(handOrder[0]!));
  });
});
