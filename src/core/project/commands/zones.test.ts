import { describe, expect, it } from 'vitest';
import type { countingEnv } from '../../../../tests/support/documents.ts';
import { loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { setZones } from '../../../../tests/support/edits.ts';
import { LiveSong, pitchHz } from '../../../../tests/support/playing.ts';
import { sine } from '../../../../tests/support/signals.ts';
import { eventsOf } from '../../queries/patterns.ts';
import { zoneValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { homeId } from '../../document/home-id.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { brokenRule, openDocument } from '../../document/validate.ts';
import { addMarker, removeSlices } from './cut.ts';
import { addModulator } from './modulators.ts';
import { duplicatePart } from './copy-part.ts';
import { addCut, removeCut } from './parts.ts';
import { copyPattern } from './patterns.ts';
import { placeEvent } from './events.ts';
import { copyZone, layItself, layZone } from './zones.ts';

const RATE = 44100;
const HIT = { strength: 1, role: 'kick' as const, roleConfidence: 1, brightnessHz: 500, midi: null, cents: null };

function project() {
  const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0, 22_050, 44_100, 66_150]);
  const keys = (document: ProjectDocument) =>
    zonesOfPart(document, document.parts[made.partId]!).map((placed) => placed.keys?.low ?? null);
  const zoneIds = made.document.parts[made.partId]!.zoneOrder;
  return { ...made, keys, zoneIds };
}

describe('zones that lie on keys', () => {
  it('lay themselves on consecutive keys, in the order of their slices', () => {
    const { document, cutId, env, keys } = project();
    expect(keys(document)).toEqual([48, 49, 50, 51]);
    const more = unwrap(addMarker(document, { cutId, slice: { ...HIT, startFrame: 30_000 } }, env));
    const placed = zonesOfPart(more, Object.values(more.parts)[0]!);
    const byKey = [...placed].sort((a, b) => a.keys!.low - b.keys!.low);
    expect(byKey.map(({ at }) => at.startFrame)).toEqual([0, 22_050, 30_000, 44_100, 66_150]);
  });

  it('by hand never move when a marker is inserted or taken away', () => {
    const { document, cutId, env, zoneIds, partId } = project();
    const laid = unwrap(layZone(document, { zoneId: zoneIds[3]!, keys: { low: 60, high: 72, root: 60 } }, env));
    const more = unwrap(addMarker(laid, { cutId, slice: { ...HIT, startFrame: 1_000 } }, env));
    const fewer = unwrap(removeSlices(more, { cutId, sliceIds: [document.zones[zoneIds[1]!]!.plays.sliceId!] }, env));
    for (const current of [laid, more, fewer]) {
      const placed = zonesOfPart(current, current.parts[partId]!).find(({ zone }) => zone.id === zoneIds[3])!;
      expect(placed.keys).toEqual({ low: 60, high: 72, root: 60 });
      expect(placed.at.startFrame).toBe(66_150);
      expect(brokenRule(current)).toBeNull();
    }
    const back = unwrap(layItself(fewer, { zoneId: zoneIds[3]! }, env));
    expect(zonesOfPart(back, back.parts[partId]!).find(({ zone }) => zone.id === zoneIds[3])!.keys!.low).toBe(51);
  });

  it('by hand stay when their slice goes, and play what covers its place', () => {
    const { document, cutId, env, zoneIds, partId } = project();
    const laid = unwrap(layZone(document, { zoneId: zoneIds[2]!, keys: { low: 60, high: 60, root: 60 } }, env));
    const gone = unwrap(removeSlices(laid, { cutId, sliceIds: [document.zones[zoneIds[2]!]!.plays.sliceId!] }, env));
    const placed = zonesOfPart(gone, gone.parts[partId]!).find(({ zone }) => zone.id === zoneIds[2])!;
    expect([placed.keys!.low, placed.at.startFrame]).toEqual([60, 22_050]);
    expect(brokenRule(gone)).toBeNull();
  });

  it('are copied to more keys, with settings of their own, and are heard there', () => {
    const { document, env, zoneIds, partId, assets } = project();
    const copied = unwrap(copyZone(document, { zoneId: zoneIds[0]!, keys: { low: 70, high: 70, root: 70 } }, env));
    const copyId = copied.parts[partId]!.zoneOrder.at(-1)!;
    const tuned = {
      ...copied,
      zones: { ...copied.zones, [copyId]: { ...copied.zones[copyId]!, values: { tuneCents: 1200 } } },
    };
    expect(zoneValues(tuned.zones[zoneIds[0]!]!).tuneCents).toBe(0);
    const heard = [48, 70].map((key) => {
      const song = new LiveSong(openDocument(tuned), assets);
      song.renderer.noteOn(partId, key, 1);
      return pitchHz(song.next(10_000), 500, 9_000);
    });
    expect(heard[0]).toBeCloseTo(400, -1);
    expect(heard[1]).toBeCloseTo(800, -1);
  });

  it('are refused keys that there are not', () => {
    const { document, env, zoneIds } = project();
    for (const keys of [
      { low: -1, high: 3 },
      { low: 3, high: 2 },
      { low: 0, high: 128 },
    ]) {
      expect(layZone(document, { zoneId: zoneIds[0]!, keys: { ...keys, root: 60 } }, env).ok).toBe(false);
    }
    expect(layZone(document, { zoneId: 'constructor', keys: null }, env).ok).toBe(false);
  });

  it('take their modulators with them when they go', () => {
    const { document, cutId, env, zoneIds } = project();
    const moved = unwrap(
      addModulator(document, { ownerId: zoneIds[1]!, kind: 'lfo', paramId: 'pan', amount: 0.5 }, env),
    );
    const gone = unwrap(removeSlices(moved, { cutId, sliceIds: [document.zones[zoneIds[1]!]!.plays.sliceId!] }, env));
    expect([Object.keys(gone.modulators), Object.keys(gone.routes)]).toEqual([[], []]);
    expect(brokenRule(gone)).toBeNull();
  });
});

describe('a part with two sources', () => {
  function twoSources() {
    const made = project();
    const other = { sampleRate: 22_050, channels: [sine(900, 1, 22_050)] };
    const source = { id: 'source-b', name: 'other', sampleRate: 22_050, channels: 1, frames: 22_050 };
    const document = unwrap(
      addCut(
        made.document,
        {
          partId: made.partId,
          source,
          loop: null,
          tempoReadings: [],
          slices: [
            { ...HIT, startFrame: 0 },
            { ...HIT, startFrame: 11_025 },
          ],
        },
        made.env,
      ),
    );
    const assets = new Map([...made.assets, [source.id, other]]);
    const [firstCut, secondCut] = document.parts[made.partId]!.cutOrder as [string, string];
    return { ...made, document, assets, firstCut, secondCut };
  }

  it('has the slices of both on consecutive keys, each heard from its own sound', () => {
    const { document, assets, partId, keys } = twoSources();
    expect(keys(document)).toEqual([48, 49, 50, 51, 52, 53]);
    expect(brokenRule(document)).toBeNull();
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
    const heard = [49, 53].map((key) => {
      const song = new LiveSong(document, assets);
      song.renderer.noteOn(partId, key, 1);
      return pitchHz(song.next(10_000), 500, 9_500);
    });
    expect(heard[0]).toBeCloseTo(400, -1);
    expect(heard[1]).toBeCloseTo(900, -1);
  });

  it('plays both in one pattern, and has a home pattern for each', () => {
    const { document, assets, partId, firstCut, secondCut, env } = twoSources();
    expect(eventsOf(document, homeId(firstCut))).toHaveLength(4);
    expect(eventsOf(document, homeId(secondCut))).toHaveLength(2);
    const copied = unwrap(copyPattern(document, { partId, patternId: homeId(firstCut) }, env));
    const patternId = copied.parts[partId]!.activePatternId;
    const zoneId = copied.parts[partId]!.zoneOrder.at(-1)!;
    const both = unwrap(placeEvent(copied, { patternId, zoneId, positionTicks: 960, lengthTicks: 480 }, env));
    const song = new LiveSong(both, assets);
    song.renderer.play();
    const out = song.next(2 * RATE);
    expect(pitchHz(out, 1_000, 20_000)).toBeCloseTo(400, -1);
    // The second beat begins after half a second at 120 bpm; there the other sound cuts the first off.
    expect(pitchHz(out, 23_050, 32_000)).toBeCloseTo(900, -2);
  });

  it('loses one with its zones, events and sound, and keeps the last', () => {
    const { document, partId, firstCut, secondCut, env } = twoSources();
    const copied = unwrap(copyPattern(document, { partId, patternId: homeId(secondCut) }, env));
    const gone = unwrap(removeCut(copied, { cutId: secondCut }, env));
    expect(gone.parts[partId]!.cutOrder).toEqual([firstCut]);
    expect(Object.keys(gone.sources)).toEqual(['source-a']);
    expect(eventsOf(gone, gone.parts[partId]!.patternOrder[0]!)).toEqual([]);
    expect(brokenRule(gone)).toBeNull();
    expect(removeCut(gone, { cutId: firstCut }, env)).toMatchObject({ ok: false });
  });

  it('is copied whole', () => {
    const { document, partId, env } = twoSources();
    const copies = unwrap(duplicatePart(document, { partId }, countingEnvAfter(env)));
    expect(copies.partOrder).toHaveLength(2);
    expect(Object.keys(copies.cuts)).toHaveLength(4);
    expect(brokenRule(copies)).toBeNull();
  });

  it('sets one setting on zones of both, absolute and relative', () => {
    const { document, partId } = twoSources();
    const sliceIds = Object.values(document.zones).map(({ plays }) => plays.sliceId!);
    const set = unwrap(setZones(document, { partId, sliceIds, sound: { gainDb: -6 } }));
    expect(Object.values(set.zones).map((zone) => zoneValues(zone).gainDb)).toEqual(Array(6).fill(-6));
  });
});

function countingEnvAfter(env: ReturnType<typeof countingEnv>) {
  return { ...env, newId: () => `copy-${env.newId()}` };
}
