import { describe, expect, it } from 'vitest';
import { openDocument } from '#core/document/validate.ts';
import { brokenRule } from '#core/document/validate.ts';
import { soundOfPart, soundsAs, withTreatment } from '#core/queries/treatments.ts';
import { countingEnv, unwrap } from '../../../../tests/support/documents.ts';
import { setPart, setZones } from '../../../../tests/support/edits.ts';
import { shortBursts } from '../../../../tests/support/playing.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { slicesOfCut } from '../../queries/slices.ts';
import { duplicatePart } from './parts.ts';
import { laySwitch } from './switches.ts';
import { keepTreatment, putTreatmentOn, removeTreatment, renameTreatment } from './treatments.ts';

const env = { ...countingEnv(), newId: () => crypto.randomUUID() };

/** A part that was kept as it is, and then made dark, quiet and high. */
function kept() {
  const made = shortBursts();
  const { partId } = made;
  const plain = unwrap(keepTreatment(made.document, { partId, name: 'plain' }, env));
  const part = plain.parts[partId]!;
  const sliceIds = slicesOfCut(plain, part.cutOrder[0]!).map(({ slice }) => slice.id);
  const dark = unwrap(
    setZones(plain, { partId, sliceIds: sliceIds.slice(0, 3), sound: { filter: 'low', cutoffHz: 400, muted: true } }),
  );
  const high = unwrap(setPart(dark, { partId, settings: { transposeCents: 500, gainDb: -9 } }));
  return { partId, plain, other: high, treatmentId: part.treatments![0]!.id };
}
const partOf = (document: ProjectDocument, partId: string) => document.parts[partId]!;

describe('a treatment', () => {
  it('brings back how the part sounded, and touches nothing else', () => {
    const { partId, plain, other, treatmentId } = kept();
    expect(soundsAs(other, partOf(other, partId), partOf(other, partId).treatments![0]!)).toBe(false);
    const back = unwrap(putTreatmentOn(other, { partId, treatmentId }, env));
    expect(soundOfPart(back, partOf(back, partId))).toEqual(soundOfPart(plain, partOf(plain, partId)));
    expect(soundsAs(back, partOf(back, partId), partOf(back, partId).treatments![0]!)).toBe(true);
    expect(back.patterns).toBe(other.patterns);
    expect(back.cuts).toBe(other.cuts);
    // Zones that sound as it says already are the same objects: nothing of them is compiled or saved.
    const same = Object.keys(back.zones).filter((id) => back.zones[id] === other.zones[id]);
    expect(same).toHaveLength(5);
  });

  it('that is on already changes nothing at all', () => {
    const { partId, plain, treatmentId } = kept();
    expect(unwrap(putTreatmentOn(plain, { partId, treatmentId }, env))).toBe(plain);
  });

  it('leaves the weights of dealing, the timing and the keys alone', () => {
    const { partId, other, treatmentId } = kept();
    const sliceIds = slicesOfCut(other, partOf(other, partId).cutOrder[0]!).map(({ slice }) => slice.id);
    const weighted = unwrap(setZones(other, { partId, sliceIds, sound: { dealWeight: 3 } }));
    const moved = unwrap(setPart(weighted, { partId, settings: { feelPercent: 40, startKey: 60 } }));
    const back = unwrap(putTreatmentOn(moved, { partId, treatmentId }, env));
    expect(Object.values(back.zones).every(({ values }) => values.dealWeight === 3)).toBe(true);
    expect(partOf(back, partId).values).toEqual({ ...partOf(moved, partId).values, transposeCents: undefined });
  });

  it('passes over what is gone, and leaves what came since', () => {
    const { partId, other, treatmentId } = kept();
    const part = partOf(other, partId);
    const [first, second] = part.zoneOrder;
    const treatment = part.treatments![0]!;
    const { [first!]: _, ...zones } = treatment.zones;
    const aged = { ...treatment, zones: { ...zones, 'zone-of-before': { gainDb: 3 } } };
    const document = { ...other, parts: { ...other.parts, [partId]: { ...part, treatments: [aged] } } };
    expect(brokenRule(document)).toBeNull();
    const back = unwrap(putTreatmentOn(document, { partId, treatmentId }, env));
    expect(back.zones[first!]).toBe(other.zones[first!]);
    expect(back.zones[second!]!.values).toEqual({});
    expect(Object.keys(back.zones)).toEqual(Object.keys(other.zones));
  });

  it('is kept again in its place, named, and given up with its keys', () => {
    const { partId, other, treatmentId } = kept();
    const place = { key: 40, does: 'treatment', patternId: null, treatmentId, whileHeld: false } as const;
    const laid = unwrap(laySwitch(other, { partId, ...place }, env));
    const again = unwrap(keepTreatment(laid, { partId, treatmentId }, env));
    expect(partOf(again, partId).treatments).toHaveLength(1);
    expect(soundsAs(again, partOf(again, partId), partOf(again, partId).treatments![0]!)).toBe(true);
    const named = unwrap(renameTreatment(again, { partId, treatmentId, name: '  dark  ' }, env));
    expect(partOf(named, partId).treatments![0]!.name).toBe('dark');
    const second = unwrap(keepTreatment(named, { partId }, env));
    expect(partOf(second, partId).treatments!.map(({ name }) => name)).toEqual(['dark', 'treatment 1']);
    const gone = unwrap(removeTreatment(second, { partId, treatmentId }, env));
    expect(partOf(gone, partId).switches).toBeUndefined();
    expect(brokenRule(gone)).toBeNull();
    expect(removeTreatment(gone, { partId, treatmentId }, env)).toMatchObject({ ok: false });
  });

  it('goes along with a copy of its part', () => {
    const { partId, plain, other, treatmentId } = kept();
    const muting = { key: 41, does: 'mute', patternId: null, zoneId: partOf(other, partId).zoneOrder[2]! } as const;
    const laid = unwrap(laySwitch(other, { partId, ...muting, whileHeld: true }, env));
    const copied = unwrap(duplicatePart(laid, { partId }, env));
    const copyId = copied.partOrder[1]!;
    const back = unwrap(putTreatmentOn(copied, { partId: copyId, treatmentId }, env));
    const values = (document: ProjectDocument, id: string) =>
      partOf(document, id).zoneOrder.map((zoneId) => document.zones[zoneId]!.values);
    expect(values(back, copyId)).toEqual(values(plain, partId));
    expect(values(back, partId)).toEqual(values(other, partId));
    expect(partOf(copied, copyId).switches![0]!.zoneId).toBe(partOf(copied, copyId).zoneOrder[2]);
    expect(openDocument(JSON.parse(JSON.stringify(back)))).toEqual(back);
  });

  it('of 64 is the last one: a clear word', () => {
    const { partId, plain } = kept();
    const { treatments } = partOf(plain, partId);
    const many = Array.from({ length: 64 }, (_, index) => ({ ...treatments![0]!, id: `t${index}` }));
    const full = { ...plain, parts: { ...plain.parts, [partId]: { ...partOf(plain, partId), treatments: many } } };
    expect(keepTreatment(full, { partId }, env)).toEqual({
      ok: false,
      reason: 'a part keeps 64 treatments at most: give one up first',
    });
  });

  it('takes the effects along, switched off or on', () => {
    const { partId, plain } = kept();
    const { channelId } = partOf(plain, partId);
    const effect = {
      id: 'fx',
      kind: 'filter',
      bypassed: false,
      sideChannelId: null,
      values: { cutoffHz: 500 },
    } as const;
    const withFx: ProjectDocument = {
      ...plain,
      effects: { fx: effect },
      channels: { ...plain.channels, [channelId]: { ...plain.channels[channelId]!, effectOrder: ['fx'] } },
    };
    const sound = soundOfPart(withFx, partOf(withFx, partId));
    const off = { ...withFx, effects: { fx: { ...effect, bypassed: true, values: {} } } };
    expect(withTreatment(off, partOf(off, partId), sound).effects).toEqual(withFx.effects);
  });
});

describe('a switch', () => {
  it('is put on by a key or a controller, and by one thing once', () => {
    const { partId, other, treatmentId } = kept();
    const place = { does: 'treatment', patternId: null, treatmentId, whileHeld: false } as const;
    const byKey = unwrap(laySwitch(other, { partId, ...place, key: 20 }, env));
    const both = unwrap(laySwitch(byKey, { partId, ...place, key: null, control: 20 }, env));
    expect(partOf(both, partId).switches).toHaveLength(2);
    expect(brokenRule(both)).toBeNull();
    const rest = { does: 'rest', patternId: null, whileHeld: true, key: null, control: 20 } as const;
    const taken = unwrap(laySwitch(both, { partId, ...rest }, env));
    expect(partOf(taken, partId).switches).toMatchObject([{ key: 20 }, { does: 'rest', control: 20 }]);
  });

  it.each([
    [{ does: 'treatment', treatmentId: 'none' }, 'this treatment is gone'],
    [{ does: 'mute', zoneId: 'none' }, 'this sound is gone'],
    [{ does: 'pattern', patternId: 'none' }, 'this pattern is gone'],
  ] as const)('to what is not there is refused: %o', (wanted, reason) => {
    const { partId, other } = kept();
    const place = { key: 20, patternId: null, whileHeld: false };
    expect(laySwitch(other, { partId, ...place, ...wanted }, env)).toEqual({ ok: false, reason });
  });
});
