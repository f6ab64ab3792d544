/** Laying out; the keys of drums by "General MIDI System Level 1", percussion key map. */
import { freeKeys } from '../../queries/free-keys.ts';
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { sine } from '../../../../tests/support/signals.ts';
import type { Role } from '../../analysis/role-names.ts';
import { percussionKeys } from '../../queries/percussion-keys.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { brokenRule, openDocument } from '../../document/validate.ts';
import {
  layByDrum,
  layByNote,
  layInRow,
  layOnKeys,
  layThemselves,
  moveZones,
  putOnKey,
  spreadZone,
  swapZones,
} from './lay.ts';
import { addModulator } from './modulators.ts';
import {
  layerByStrength,
  pasteValues,
  setVelocities,
  setZoneDefaults,
  setZoneLoop,
  takeOffKeys,
  layWholeLoop,
} from './zones.ts';
import { copyPattern } from './patterns.ts';
import { pickRanges } from './pick.ts';
import { addKit, replaceByKit } from './kits.ts';
import { kitOf } from '../kit-of.ts';
import { KIT_KIND } from '../../shelf/kit.ts';
import { openRecord } from '../../shelf/record-kind.ts';
import { addMarker } from './cut.ts';
import { zoneValues } from '../../queries/values.ts';

const RATE = 44100;

function project(roles: readonly Role[] = ['kick', 'snare', 'closed hat', 'bass']) {
  const starts = roles.map((_, i) => i * 20_000);
  const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, starts);
  const cut = made.document.cuts[made.cutId]!;
  const slices = Object.fromEntries(
    Object.values(cut.slices)
      .sort((a, b) => a.startFrame - b.startFrame)
      .map((slice, i) => [slice.id, { ...slice, role: roles[i]! }]),
  );
  const document = { ...made.document, cuts: { [made.cutId]: { ...cut, slices } } };
  // Ids of their own, beside those that the project has already.
  const env = {
    ...countingEnv(),
    newId: (
      (n) => () =>
        `new-${++n}`
    )(0),
  };
  return { ...made, document, env, zoneIds: document.parts[made.partId]!.zoneOrder };
}

const keysOf = (document: ProjectDocument, zoneIds: readonly string[]) => {
  const [part] = Object.values(document.parts);
  const placed = zonesOfPart(document, part!);
  return zoneIds.map((id) => placed.find(({ zone }) => zone.id === id)?.keys?.low ?? null);
};

describe('laying out', () => {
  it('on a key where another lies that laid itself: they change places, none falls off', () => {
    const { document, env, zoneIds } = project();
    const [first] = zoneIds;
    const laid = unwrap(putOnKey(document, { zoneId: first!, key: 50 }, env));
    expect(keysOf(laid, zoneIds)).toEqual([50, 49, 48, 51]);
    const off = unwrap(takeOffKeys(laid, { zoneIds: [first!] }, env));
    // It has no key to give: the other stays beside it.
    expect(keysOf(unwrap(putOnKey(off, { zoneId: first!, key: 51 }, env)), zoneIds)).toEqual([51, 49, 48, 51]);
  });

  it('in a row, from any key, in the order chosen, on white keys only', () => {
    const { document, zoneIds, env } = project();
    const all = unwrap(layInRow(document, { zoneIds: [...zoneIds].reverse(), startKey: 61, keys: 'all' }, env));
    expect(keysOf(all, zoneIds)).toEqual([64, 63, 62, 61]);
    const white = unwrap(layInRow(document, { zoneIds, startKey: 61, keys: 'white' }, env));
    expect(keysOf(white, zoneIds)).toEqual([62, 64, 65, 67]);
    const high = unwrap(layInRow(document, { zoneIds, startKey: 126, keys: 'all' }, env));
    expect(keysOf(high, zoneIds)).toEqual([126, 127, null, null]);
    expect(brokenRule(high)).toBeNull();
    expect(layInRow(document, { zoneIds, startKey: 128, keys: 'all' }, env).ok).toBe(false);
    expect(layInRow(document, { zoneIds: ['nobody'], startKey: 40, keys: 'all' }, env).ok).toBe(false);
  });

  it('by drum: the agreed keys, the next ones for further sounds of a role, what is no drum above them', () => {
    expect(percussionKeys(['kick', 'snare', 'closed hat', 'open hat'])).toEqual([36, 38, 42, 46]);
    expect(percussionKeys(['rim', 'clap', 'kick', 'kick', 'cymbal', 'cymbal'])).toEqual([37, 39, 36, 35, 49, 51]);
    expect(percussionKeys(['snare', 'bass', 'chord', 'kick', 'kick', 'kick'])).toEqual([38, 39, 40, 36, 35, 41]);
    const { document, zoneIds, env } = project();
    expect(keysOf(unwrap(layByDrum(document, { zoneIds }, env)), zoneIds)).toEqual([36, 38, 42, 43]);
    const many = percussionKeys(Array<Role>(128).fill('chord'));
    expect(many.filter((key) => key === null).length).toBe(128 - (127 - 36));
  });

  it('by note: each on its own, of several of one note the first', () => {
    const { document, zoneIds, env, cutId } = project();
    const withNotes = (notes: (number | null)[]): ProjectDocument => {
      const cut = document.cuts[cutId]!;
      const ordered = Object.values(cut.slices).sort((a, b) => a.startFrame - b.startFrame);
      const slices = ordered.map((slice, i) => [slice.id, { ...slice, midi: notes[i]!, cents: null }]);
      return { ...document, cuts: { [cutId]: { ...cut, slices: Object.fromEntries(slices) } } };
    };
    expect(layByNote(withNotes([null, null, null, null]), { zoneIds }, env).ok).toBe(false);
    const laid = unwrap(layByNote(withNotes([60, 64, 60, null]), { zoneIds }, env));
    expect(keysOf(laid, zoneIds)).toEqual([60, 64, 50, 51]);
  });

  it('moved together, never past the ends; two swapped; back to where they lie by themselves', () => {
    const { document, zoneIds, env } = project();
    const moved = unwrap(moveZones(document, { zoneIds: zoneIds.slice(0, 2), by: 12 }, env));
    expect(keysOf(moved, zoneIds.slice(0, 2))).toEqual([60, 61]);
    const far = unwrap(moveZones(document, { zoneIds: zoneIds.slice(0, 2), by: 500 }, env));
    expect(keysOf(far, zoneIds.slice(0, 2))).toEqual([126, 127]);
    expect(moveZones(far, { zoneIds: zoneIds.slice(0, 2), by: 1 }, env).ok).toBe(false);
    const swapped = unwrap(swapZones(moved, { zoneId: zoneIds[0]!, otherId: zoneIds[3]! }, env));
    expect(keysOf(swapped, zoneIds)).toEqual([51, 61, 50, 60]);
    const back = unwrap(layThemselves(swapped, { zoneIds }, env));
    expect(keysOf(back, zoneIds)).toEqual([48, 49, 50, 51]);
  });

  it('one over a range, in tune around its root', () => {
    const { document, zoneIds, env } = project();
    const keys = { low: 36, high: 96, root: 69 };
    const spread = unwrap(spreadZone(document, { zoneId: zoneIds[0]!, keys, tuneCents: -12 }, env));
    expect(spread.zones[zoneIds[0]!]!.keys).toEqual(keys);
    expect(zoneValues(spread.zones[zoneIds[0]!]!).tuneCents).toBe(-12);
    expect(spreadZone(document, { zoneId: zoneIds[0]!, keys: { low: 96, high: 36, root: 69 } }, env).ok).toBe(false);
  });

  it('the same sound on many keys, with what moves it, each of its own from then on', () => {
    const { document, zoneIds, env } = project();
    const moved = unwrap(addModulator(document, { ownerId: zoneIds[0]!, kind: 'lfo', paramId: 'pan', amount: 1 }, env));
    const many = unwrap(layOnKeys(moved, { zoneId: zoneIds[0]!, keys: [70, 71, 72] }, env));
    const copies = Object.values(many.zones).filter(({ keys }) => keys && keys.low >= 70);
    expect(copies.map(({ keys }) => keys!.low).sort()).toEqual([70, 71, 72]);
    expect(Object.keys(many.modulators)).toHaveLength(4);
    expect(Object.keys(many.routes)).toHaveLength(4);
    const other = unwrap(pasteValues(many, { zoneIds: [copies[0]!.id], values: { startOffsetMs: 12 } }, env));
    expect(zoneValues(other.zones[copies[1]!.id]!).startOffsetMs).toBe(0);
    expect(openDocument(JSON.parse(JSON.stringify(other)))).toEqual(other);
  });

  it('taken off: one of several goes, and what it played is played by another; the last stays without a key', () => {
    const { document, zoneIds, env, partId, home } = project();
    const copied = unwrap(copyPattern(document, { partId, patternId: home }, env));
    const many = unwrap(layOnKeys(copied, { zoneId: zoneIds[0]!, keys: [70, 71] }, env));
    const ids = Object.values(many.zones).flatMap(({ id, keys }) => (keys && keys.low >= 70 ? [id] : []));
    const gone = unwrap(takeOffKeys(many, { zoneIds: [zoneIds[0]!, ids[0]!] }, env));
    expect(gone.zones[zoneIds[0]!]).toBeUndefined();
    expect(gone.zones[ids[0]!]).toBeUndefined();
    const [pattern] = Object.values(gone.patterns);
    expect(Object.values(pattern!.events).some(({ zoneId }) => zoneId === ids[1])).toBe(true);
    expect(brokenRule(gone)).toBeNull();
    const last = unwrap(takeOffKeys(gone, { zoneIds: [ids[1]!] }, env));
    expect(last.zones[ids[1]!]!.keys).toBeNull();
    expect(brokenRule(last)).toBeNull();
  });
});

describe('strengths, loops and settings of zones', () => {
  it('share a key by strength, without a gap', () => {
    const { document, zoneIds, env } = project();
    const keys = { low: 42, high: 42, root: 42 };
    const layered = unwrap(layerByStrength(document, { zoneIds: zoneIds.slice(0, 3), keys, fade: 8 }, env));
    const ranges = zoneIds.slice(0, 3).map((id) => layered.zones[id]!.velocities);
    expect(ranges).toEqual([
      { low: 1, high: 42, fade: 8 },
      { low: 43, high: 85, fade: 8 },
      { low: 86, high: 127, fade: 8 },
    ]);
    expect(layerByStrength(document, { zoneIds: [zoneIds[0]!], keys, fade: 0 }, env).ok).toBe(false);
    expect(setVelocities(document, { zoneIds, velocities: { low: 90, high: 20 } }, env).ok).toBe(false);
    expect(setVelocities(document, { zoneIds, velocities: { low: 0 } }, env).ok).toBe(false);
  });

  it('a loop lies inside its sound; a whole loop needs one', () => {
    const { document, zoneIds, env, cutId } = project();
    const [zoneId] = zoneIds;
    const loop = { startFrame: 100.4, endFrame: 9_000, crossfadeFrames: 20 };
    const set = unwrap(setZoneLoop(document, { zoneId: zoneId!, loop }, env));
    expect(set.zones[zoneId!]!.loop).toEqual({ startFrame: 100, endFrame: 9_000, crossfadeFrames: 20 });
    expect(setZoneLoop(document, { zoneId: zoneId!, loop: { ...loop, endFrame: 50 } }, env).ok).toBe(false);
    expect(setZoneLoop(document, { zoneId: zoneId!, loop: { ...loop, endFrame: 1e9 } }, env).ok).toBe(false);
    const keys = { low: 72, high: 84, root: 72 };
    const whole = unwrap(layWholeLoop(document, { cutId, keys }, env));
    expect(Object.values(whole.zones).filter(({ plays }) => plays.kind === 'loop')).toHaveLength(1);
    expect(openDocument(JSON.parse(JSON.stringify(whole)))).toEqual(whole);
    const cut = { ...document.cuts[cutId]!, loop: null };
    expect(layWholeLoop({ ...document, cuts: { [cutId]: cut } }, { cutId, keys }, env).ok).toBe(false);
    // Markers come and go: the whole loop stays.
    const slice = {
      startFrame: 5_000,
      strength: 1,
      role: 'kick',
      roleConfidence: 1,
      brightnessHz: 9,
      midi: null,
      cents: null,
    } as const;
    const more = unwrap(addMarker(whole, { cutId, slice }, env));
    expect(brokenRule(more)).toBeNull();
    expect(Object.values(more.zones).filter(({ plays }) => plays.kind === 'loop')).toHaveLength(1);
  });

  it('made the default, new zones begin with them', () => {
    const { document, env, cutId } = project();
    const set = unwrap(setZoneDefaults(document, { values: { answer: 'gate', releaseMs: 80 } }, env));
    const slice = {
      startFrame: 5_000,
      strength: 1,
      role: 'kick',
      roleConfidence: 1,
      brightnessHz: 9,
      midi: null,
      cents: null,
    } as const;
    const more = unwrap(addMarker(set, { cutId, slice }, env));
    const [added] = Object.values(more.zones).filter(({ id }) => !document.zones[id]);
    expect(zoneValues(added!)).toMatchObject({ answer: 'gate', releaseMs: 80 });
    expect(setZoneDefaults(document, { values: { releaseMs: -1 } }, env).ok).toBe(false);
    expect(pasteValues(document, { zoneIds: [], values: {} }, env).ok).toBe(false);
  });
});

describe('picking', () => {
  const facts = { strength: 1, role: 'snare', roleConfidence: 1, brightnessHz: 900, midi: null, cents: null } as const;
  const source = (id: string) => ({ id, name: id, sampleRate: RATE, channels: 1, frames: 50_000 });
  const range = (startFrame: number, endFrame: number) => ({ startFrame, endFrame, name: '', ...facts });

  it('lets a kit grow out of any number of sources, on keys of its own', () => {
    const { document, env } = project();
    let kit = unwrap(
      pickRanges(
        document,
        { partId: null, partName: 'kit', source: source('a'), ranges: [range(0, 500)], key: 36 },
        env,
      ),
    );
    const partId = kit.partOrder.at(-1)!;
    for (const [id, key] of [
      ['b', 38],
      ['a', null],
      ['c', 38],
    ] as const) {
      const args = { partId, partName: '', source: source(id), ranges: [range(1_000, 2_000)], key };
      kit = unwrap(pickRanges(kit, args, env));
    }
    const placed = zonesOfPart(kit, kit.parts[partId]!);
    expect(placed.map(({ keys }) => keys!.low)).toEqual([36, 38, 37, 38]);
    expect(kit.parts[partId]!.cutOrder).toHaveLength(3);
    expect(placed.every(({ at }) => at.endFrame - at.startFrame <= 1_000)).toBe(true);
    expect(openDocument(JSON.parse(JSON.stringify(kit)))).toEqual(kit);
    expect(freeKeys(kit, kit.parts[partId], 36, 2)).toEqual([39, 40]);
  });

  it('refuses what is no range, and a keyboard that is full', () => {
    const { document, env, partId, zoneIds } = project();
    const args = { partId, partName: '', source: source('a'), key: null };
    expect(pickRanges(document, { ...args, ranges: [range(500, 500)] }, env).ok).toBe(false);
    expect(pickRanges(document, { ...args, ranges: [range(0, 60_000)] }, env).ok).toBe(false);
    expect(pickRanges(document, { ...args, ranges: [] }, env).ok).toBe(false);
    const full = unwrap(spreadZone(document, { zoneId: zoneIds[0]!, keys: { low: 0, high: 127, root: 60 } }, env));
    const refusal = pickRanges(full, { ...args, ranges: [range(0, 500)] }, env);
    expect(refusal.ok ? '' : refusal.reason).toContain('take something off its key');
  });
});

describe('kits', () => {
  it('go through JSON and come back as a part of another project, with all that belongs to them', () => {
    const { document, zoneIds, env, partId } = project();
    const moved = unwrap(
      addModulator(document, { ownerId: zoneIds[1]!, kind: 'steps', paramId: 'gainDb', amount: 0.5 }, env),
    );
    const kit = openRecord(KIT_KIND, JSON.parse(JSON.stringify(kitOf(moved, moved.parts[partId]!, 'Bollard kit'))));
    const other = project();
    const added = unwrap(addKit(other.document, { kit }, { ...env }));
    const part = added.parts[added.partOrder.at(-1)!]!;
    expect(part.name).toBe('Bollard kit');
    expect(zonesOfPart(added, part).map(({ keys }) => keys!.low)).toEqual([48, 49, 50, 51]);
    expect(Object.values(added.modulators).map(({ ownerId }) => part.zoneOrder.includes(ownerId))).toEqual([true]);
    expect(openDocument(JSON.parse(JSON.stringify(added)))).toEqual(added);
  });

  it('take the place of what a part has, and leave its patterns standing', () => {
    const { document, env, partId, home } = project();
    const kit = kitOf(document, document.parts[partId]!, 'kit');
    const copied = unwrap(copyPattern(document, { partId, patternId: home }, env));
    const replaced = unwrap(replaceByKit(copied, { partId, kit }, env));
    expect(replaced.parts[partId]!.patternOrder).toHaveLength(1);
    expect(replaced.parts[partId]!.cutOrder).toHaveLength(1);
    expect(replaced.parts[partId]!.cutOrder).not.toEqual(document.parts[partId]!.cutOrder);
    expect(openDocument(JSON.parse(JSON.stringify(replaced)))).toEqual(replaced);
  });

  it('of other versions or broken ones are refused in words', () => {
    const { document, partId } = project();
    const kit = kitOf(document, document.parts[partId]!, 'kit');
    expect(() => openRecord(KIT_KIND, { ...kit, schemaVersion: 99 })).toThrow('newer version');
    expect(() => openRecord(KIT_KIND, { name: 'x' })).toThrow('no schemaVersion');
    expect(() => openRecord(KIT_KIND, { ...kit, zones: [{ id: 'z' }] })).toThrow('zones.0');
  });
});
