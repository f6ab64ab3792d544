import { describe, expect, it } from 'vitest';
import { fixtureBytes } from '../../../tests/support/fixtures.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../tests/support/signals.ts';
import { AppError } from '../units/errors.ts';
import { addMarker, clearMarkers, moveMarker, recut, removeSlices } from './commands/cut.ts';
import { lockSlices, mergeSlices, nameSlices, setSliceEnds, setSliceRole, trimSlices } from './commands/slices.ts';
import { duplicatePart } from './commands/copy-part.ts';
import { movePart, removePart, renamePart, setLoop } from './commands/parts.ts';
import { copyPattern, setPatternLength } from './commands/patterns.ts';
import { renameProject } from './commands/song.ts';
import { emptyDocument, likeliestMaterial } from '../document/defaults.ts';
import { selectByRule } from './selection.ts';
import { EMPTY_HISTORY, record, redo, undo } from '../document/history.ts';
import { orderedEvents } from '../queries/patterns.ts';
import { SCHEMA_VERSION } from '../document/limits.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { zonesOfPart } from '../queries/zones.ts';
import { cutValues, partValues, songValues, zoneValues } from '../queries/values.ts';
import { brokenRule, openDocument } from '../document/validate.ts';
import { setPart, setZones, setSong, slicesOfPart, type PartSettings, homeOf } from '../../../tests/support/edits.ts';

function project() {
  const { audio, starts } = eightStepLoop();
  return loopProject(audio, starts);
}

function startsOf(document: ProjectDocument, partId: string): number[] {
  return slicesOfPart(document, document.parts[partId]!).map((at) => at.startFrame);
}

const found = (startFrame: number, strength = 0.9) => ({
  startFrame,
  strength,
  role: 'snare' as const,
  roleConfidence: 0.8,
  brightnessHz: 900,
  midi: null,
  cents: null,
});

function codeOf(action: () => unknown): string {
  try {
    action();
    return 'no error';
  } catch (error) {
    return error instanceof AppError ? error.code : String(error);
  }
}

describe('adding a part', () => {
  it('gives the first part’s tempo to the song and puts slices on consecutive keys', () => {
    const { document, partId } = project();
    expect(songValues(document)).toMatchObject({ tempoBpm: 120, beatsPerBar: 4 });
    const keys = zonesOfPart(document, document.parts[partId]!).map((placed) => placed.keys!.low);
    expect(keys).toEqual([48, 49, 50, 51, 52, 53, 54, 55]);
    expect(brokenRule(document)).toBeNull();
  });

  it('can be taken back, with everything that belonged to it', () => {
    const { document, env, partId } = project();
    const copied = unwrap(copyPattern(document, { partId, patternId: homeOf(document, partId) }, env));
    const removed = unwrap(removePart(copied, { partId }, env));
    expect(removed).toEqual({ ...emptyDocument(removed.id, removed.name), song: removed.song });
  });
});

describe('finding again', () => {
  it('keeps locked and hand-made slices, and what was set on slices that are found again', () => {
    const { document, env, partId, cutId } = project();
    const [first, second, third] = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    let current = unwrap(lockSlices(document, { cutId, sliceIds: [second!], locked: true }, env));
    current = unwrap(nameSlices(current, { cutId, sliceIds: [third!], name: 'my snare' }, env));
    current = unwrap(setZones(current, { partId, sliceIds: [third!], sound: { gainDb: -6 } }, env));
    current = unwrap(addMarker(current, { cutId, slice: found(5000) }, env));
    const next = unwrap(
      recut(current, { cutId, settings: { sensitivity: 0.2 }, slices: [found(0), found(22_100), found(60_000)] }, env),
    );
    expect(startsOf(next, partId)).toEqual([0, 5000, 11_025, 22_100, 60_000]);
    const slices = next.cuts[cutId]!.slices;
    expect(Object.keys(slices)).toContain(first);
    expect(slices[third!]).toMatchObject({ name: 'my snare', startFrame: 22_100 });
    const zone = zonesOfPart(next, next.parts[partId]!).find(({ at }) => at.slice.id === third)!.zone;
    expect(zoneValues(zone).gainDb).toBe(-6);
    expect(cutValues(next.cuts[cutId]!).sensitivity).toBe(0.2);
  });

  it('lets events of slices that went play what covers their place', () => {
    const { document, env, partId, cutId } = project();
    const copied = unwrap(copyPattern(document, { partId, patternId: homeOf(document, partId) }, env));
    const next = unwrap(recut(copied, { cutId, settings: {}, slices: [found(0), found(44_100)] }, env));
    expect(brokenRule(next)).toBeNull();
    const patternId = next.parts[partId]!.activePatternId;
    const playing = orderedEvents(next.patterns[patternId]!.events).map(
      (event) => next.cuts[cutId]!.slices[next.zones[event.zoneId]!.plays.sliceId!]!.startFrame,
    );
    expect(playing).toEqual([0, 0, 0, 0, 44_100, 44_100, 44_100, 44_100]);
  });

  it('is refused when nothing was found', () => {
    const { document, env, cutId } = project();
    expect(recut(document, { cutId, settings: {}, slices: [] }, env)).toMatchObject({ ok: false });
  });
});

describe('markers by hand', () => {
  it('stop short of their neighbours', () => {
    const { document, env, partId, cutId } = project();
    const second = slicesOfPart(document, document.parts[partId]!)[1]!.slice.id;
    const late = unwrap(moveMarker(document, { cutId, sliceId: second, startFrame: 999_999 }, env));
    expect(startsOf(late, partId)[1]).toBe(22_050 - 16);
    const early = unwrap(moveMarker(document, { cutId, sliceId: second, startFrame: -5 }, env));
    expect(startsOf(early, partId)[1]).toBe(16);
    expect(early.cuts[cutId]!.slices[second]!.origin).toBe('hand');
  });

  it('do not move when locked, are not doubled, and the last slice stays', () => {
    const { document, env, partId, cutId } = project();
    const ids = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    const locked = unwrap(lockSlices(document, { cutId, sliceIds: ids, locked: true }, env));
    expect(moveMarker(locked, { cutId, sliceId: ids[1]!, startFrame: 9000 }, env).ok).toBe(false);
    expect(removeSlices(locked, { cutId, sliceIds: ids }, env).ok).toBe(false);
    expect(addMarker(document, { cutId, slice: found(11_030) }, env).ok).toBe(false);
    expect(addMarker(document, { cutId, slice: found(88_200) }, env).ok).toBe(false);
    expect(removeSlices(document, { cutId, sliceIds: ids }, env).ok).toBe(false);
    expect(startsOf(unwrap(removeSlices(document, { cutId, sliceIds: [ids[3]!] }, env)), partId)).toHaveLength(7);
  });

  it('are named in one step, numbered when many', () => {
    const { document, env, partId, cutId } = project();
    const ids = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    const named = unwrap(nameSlices(document, { cutId, sliceIds: ids.slice(0, 3), name: 'thud' }, env));
    expect(ids.slice(0, 3).map((id) => named.cuts[cutId]!.slices[id]!.name)).toEqual(['thud 1', 'thud 2', 'thud 3']);
    const roles = unwrap(setSliceRole(named, { cutId, sliceIds: ids, role: 'tom' }, env));
    expect(
      slicesOfPart(roles, roles.parts[partId]!)
        .map((at) => at.label)
        .slice(2, 5),
    ).toEqual(['thud 3', 'tom 4', 'tom 5']);
  });
});

describe('ends of their own', () => {
  it('may reach over the neighbour without touching it, and go back', () => {
    const { document, env, partId, cutId } = project();
    const placed = slicesOfPart(document, document.parts[partId]!);
    const [first] = placed.map((at) => at.slice.id);
    const long = unwrap(setSliceEnds(document, { cutId, ends: { [first!]: 30_000 } }, env));
    const after = slicesOfPart(long, long.parts[partId]!);
    expect(after[0]!.endFrame).toBe(30_000);
    expect(after[1]).toMatchObject({ startFrame: 11_025, endFrame: 22_050 });
    const back = unwrap(setSliceEnds(long, { cutId, ends: { [first!]: null } }, env));
    expect(slicesOfPart(back, back.parts[partId]!)[0]!.endFrame).toBe(11_025);
    expect(setSliceEnds(document, { cutId, ends: { [first!]: 3 } }, env)).toEqual({
      ok: false,
      reason: 'a slice ends after its start',
    });
    const beyond = unwrap(setSliceEnds(document, { cutId, ends: { [first!]: 999_999 } }, env));
    expect(slicesOfPart(beyond, beyond.parts[partId]!)[0]!.endFrame).toBe(88_200);
  });

  it('come with trimming, and neighbours can be joined', () => {
    const { document, env, partId, cutId } = project();
    const ids = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    const trimmed = unwrap(
      trimSlices(document, { cutId, ranges: { [ids[1]!]: { startFrame: 12_000, endFrame: 20_000 } } }, env),
    );
    expect(slicesOfPart(trimmed, trimmed.parts[partId]!)[1]).toMatchObject({ startFrame: 12_000, endFrame: 20_000 });
    const joined = unwrap(mergeSlices(document, { cutId, sliceIds: [ids[2]!, ids[3]!, ids[4]!, ids[6]!] }, env));
    expect(startsOf(joined, partId)).toEqual([0, 11_025, 22_050, 55_125, 66_150, 77_175]);
    expect(mergeSlices(document, { cutId, sliceIds: [ids[0]!, ids[2]!] }, env).ok).toBe(false);
  });

  it('make room for tapping: only the first, locked and hand-made markers stay', () => {
    const { document, env, partId, cutId } = project();
    const ids = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    const locked = unwrap(lockSlices(document, { cutId, sliceIds: [ids[5]!], locked: true }, env));
    const cleared = unwrap(clearMarkers(locked, { cutId }, env));
    expect(startsOf(cleared, partId)).toEqual([0, 55_125]);
    expect(cutValues(cleared.cuts[cutId]!).method).toBe('taps');
  });
});

describe('selecting by rule', () => {
  it('finds all, the others, the same role and the same length', () => {
    const { document, env, partId, cutId } = project();
    const ids = slicesOfPart(document, document.parts[partId]!).map((at) => at.slice.id);
    let current = unwrap(setSliceRole(document, { cutId, sliceIds: [ids[1]!, ids[4]!], role: 'rim' }, env));
    current = unwrap(setSliceEnds(current, { cutId, ends: { [ids[7]!]: 80_000 } }, env));
    const placed = slicesOfPart(current, current.parts[partId]!);
    expect(selectByRule(placed, [], 'all')).toEqual(ids);
    expect(selectByRule(placed, ids, 'none')).toEqual([]);
    expect(selectByRule(placed, ids.slice(1), 'invert')).toEqual([ids[0]]);
    expect(selectByRule(placed, [ids[1]!], 'same-role')).toEqual([ids[1], ids[4]]);
    expect(selectByRule(placed, [ids[0]!], 'about-as-long')).toEqual(ids.slice(0, 7));
    const short = { ...placed[2]!, endFrame: placed[2]!.startFrame + 200 };
    expect(selectByRule([...placed.slice(0, 2), short, ...placed.slice(3)], [], 'slivers')).toEqual([ids[2]]);
  });
});

describe('song and part', () => {
  it('refuse what is out of range with a reason', () => {
    const { document, env, partId, cutId } = project();
    expect(setSong(document, { tempoBpm: 401 })).toEqual({
      ok: false,
      reason: 'tempo goes from 20.00 bpm to 400.00 bpm',
    });
    expect(setSong(document, { tempoBpm: NaN }).ok).toBe(false);
    expect(setSong(document, { beatsPerBar: 0 }).ok).toBe(false);
    expect(setSong(document, { beatsPerBar: 3.25 }).ok).toBe(false);
    expect(songValues(unwrap(setSong(document, { beatsPerBar: 3.5 }))).beatsPerBar).toBe(3.5);
    expect(renameProject(document, { name: '   ' }, env).ok).toBe(false);
    expect(setPart(document, { partId, settings: { startKey: 128 } }, env).ok).toBe(false);
    expect(setLoop(document, { cutId, loop: { startFrame: 50_000, endFrame: 40_000 } }, env).ok).toBe(false);
    expect(unwrap(setLoop(document, { cutId, loop: { bars: 2 } }, env)).cuts[cutId]!.loop!.bars).toBe(2);
  });
});

describe('undo and redo', () => {
  it('lead back and forth, step by step', () => {
    const { document, env, partId } = project();
    const faster = unwrap(setSong(document, { tempoBpm: 140 }));
    const named = unwrap(renamePart(faster, { partId, name: 'drums' }, env));
    let history = record(EMPTY_HISTORY, 'tempo', document, faster);
    history = record(history, 'name', faster, named);
    const back = undo(history, named)!;
    expect(back.document).toEqual(faster);
    const start = undo(back.history, back.document)!;
    expect(start.document).toEqual(document);
    expect(undo(start.history, start.document)).toBeNull();
    expect(redo(start.history, start.document)!.document).toEqual(faster);
    expect(record(history, 'nothing', named, named)).toBe(history);
  });
});

describe('opening documents', () => {
  it('still opens what version 1 wrote', async () => {
    const json = JSON.parse((await fixtureBytes('documents/version-1.json')).toString()) as unknown;
    const opened = openDocument(json);
    expect(opened.schemaVersion).toBe(SCHEMA_VERSION);
    // It goes on sounding as it did: what came later is off.
    for (const cut of Object.values(opened.cuts))
      expect(cutValues(cut)).toMatchObject({ follow: 'slices', tail: 'leave' });
    for (const part of Object.values(opened.parts)) {
      expect(part).toMatchObject({ groove: null });
      expect(partValues(part)).toMatchObject({ transposeCents: 0, feelPercent: 100 });
    }
    expect(songValues(opened)).toMatchObject({ swingPercent: 50, clickSound: 'tick', countInBars: 0 });
  });

  it('refuses what is newer, broken or not a project, and says so', () => {
    const { document, cutId } = project();
    expect(codeOf(() => openDocument({ ...document, schemaVersion: 999 }))).toBe('document.newer');
    expect(codeOf(() => openDocument('hello'))).toBe('document.invalid');
    expect(codeOf(() => openDocument({ ...document, song: { values: { tempoBpm: -1 } } }))).toBe('document.invalid');
    expect(codeOf(() => openDocument({ ...document, partOrder: [] }))).toBe('document.invalid');
    expect(
      codeOf(() => openDocument({ ...document, cuts: { [cutId]: { ...document.cuts[cutId]!, sourceId: 'x' } } })),
    ).toBe('document.invalid');
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
  });
});

describe('parts in the rail', () => {
  it('are copied with their cut and patterns, and moved', () => {
    const { document, env, partId, cutId } = project();
    const patterned = unwrap(copyPattern(document, { partId, patternId: homeOf(document, partId) }, env));
    const copied = unwrap(duplicatePart(patterned, { partId }, env));
    const [first, second] = copied.partOrder;
    expect(first).toBe(partId);
    const copy = copied.parts[second!]!;
    expect(copy.name).toBe(`${document.parts[partId]!.name} (copy)`);
    const [otherCut] = copy.cutOrder;
    expect(copied.cuts[otherCut!]).toEqual({ ...copied.cuts[cutId]!, id: otherCut, partId: second });
    expect(copied.cuts[otherCut!]!.slices).toBe(copied.cuts[cutId]!.slices);
    expect(copy.patternOrder).toHaveLength(1);
    expect(copy.patternOrder[0]).not.toBe(copied.parts[partId]!.patternOrder[0]);
    expect(copied.patterns[copy.patternOrder[0]!]!.partId).toBe(second);
    expect(copy.activePatternId).toBe(copy.patternOrder[0]);
    expect(openDocument(JSON.parse(JSON.stringify(copied)))).toEqual(copied);
    const moved = unwrap(movePart(copied, { partId: second!, by: -1 }, env));
    expect(moved.partOrder).toEqual([second, first]);
    expect(movePart(moved, { partId: second!, by: -1 }, env)).toMatchObject({ ok: false });
    // The copy goes its own way.
    const gone = unwrap(removePart(moved, { partId }, env));
    expect(openDocument(JSON.parse(JSON.stringify(gone)))).toEqual(gone);
  });

  it('are drums, notes or mixes by what was heard in them', () => {
    expect(likeliestMaterial(['kick', 'closed hat', 'snare', 'closed hat'])).toBe('drums');
    expect(likeliestMaterial(['bass', 'note', 'chord', 'chord'])).toBe('notes');
    expect(likeliestMaterial(['kick', 'bass', 'snare', 'chord'])).toBe('mixes');
    // One stray guess among ten changes nothing.
    expect(likeliestMaterial([...Array<'kick'>(9).fill('kick'), 'note'])).toBe('drums');
    expect(likeliestMaterial([...Array<'kick'>(14).fill('kick'), 'bass', 'bass'])).toBe('mixes');
    expect(likeliestMaterial([...Array<'kick'>(60).fill('kick'), 'bass', 'bass'])).toBe('drums');
    expect(likeliestMaterial(['note'])).toBe('notes');
    expect(likeliestMaterial([...Array<'note'>(9).fill('note'), 'tom'])).toBe('notes');
    expect(likeliestMaterial([])).toBe('mixes');
    const { document, partId, cutId } = project();
    expect(cutValues(document.cuts[cutId]!).material).toBe(
      likeliestMaterial(slicesOfPart(document, document.parts[partId]!).map(({ slice }) => slice.role)),
    );
  });

  it('take settings of time within their ranges only', () => {
    const { document, env, partId } = project();
    const set = (settings: PartSettings) => setPart(document, { partId, settings }, env);
    expect(set({ transposeCents: 700, feelPercent: 40, startOffsetTicks: -960 }).ok).toBe(true);
    expect(set({ transposeCents: 4801 })).toMatchObject({
      ok: false,
      reason: 'transpose goes from -48.00 st to 48.00 st',
    });
    expect(set({ feelPercent: Number.NaN }).ok).toBe(false);
    expect(setSong(document, { swingPercent: 80 }).ok).toBe(false);
  });

  it('have patterns of lengths of their own; shortening one loses nothing', () => {
    const { document, env, partId, home } = project();
    const made = unwrap(copyPattern(document, { partId, patternId: homeOf(document, partId) }, env));
    const patternId = made.parts[partId]!.activePatternId;
    const events = Object.keys(made.patterns[patternId]!.events).length;
    const short = unwrap(setPatternLength(made, { patternId, lengthTicks: 960 }, env));
    expect(short.patterns[patternId]!.lengthTicks).toBe(960);
    expect(Object.keys(short.patterns[patternId]!.events)).toHaveLength(events);
    expect(setPatternLength(made, { patternId, lengthTicks: 0 }, env).ok).toBe(false);
    expect(setPatternLength(made, { patternId: home, lengthTicks: 960 }, env).ok).toBe(false);
  });
});

describe('undo steps', () => {
  it('are as many as there is room for: large ones push out the oldest, and the last one always stays', () => {
    const { document } = project();
    const step = (size: number, round: number): ProjectDocument => ({
      ...document,
      sources: {
        ...document.sources,
        ...Object.fromEntries(
          Array.from({ length: size }, (_, i) => [
            `s${i}`,
            { ...document.sources['source-a']!, id: `s${i}`, frames: round },
          ]),
        ),
      },
    });
    let history = EMPTY_HISTORY;
    let before = document;
    for (let round = 1; round <= 60; round++) {
      const after = step(8_000, round);
      history = record(history, `step ${round}`, before, after);
      before = after;
    }
    expect(history.past.length).toBeGreaterThan(5);
    expect(history.past.length).toBeLessThan(60);
    expect(history.past.at(-1)!.label).toBe('step 60');
    const huge = step(80_000, 99);
    history = record(history, 'huge', before, huge);
    expect(history.past.map(({ label }) => label)).toEqual(['huge']);
    expect(undo(history, huge)!.document).toEqual(before);
    for (let round = 0; round < 600; round++) {
      const after = { ...before, name: `n${round}` };
      history = record(history, 'name', before, after);
      before = after;
    }
    expect(history.past).toHaveLength(500);
  });
});
