import { describe, expect, it } from 'vitest';
import { openDocument } from '#core/document/validate.ts';
import { brokenRule } from '#core/document/validate.ts';
import { soundOfPart, soundsAs, withTreatment } from '#core/queries/treatments.ts';
import { countingEnv, unwrap } from '../../../../tests/support/documents.ts';
import { setPart, setZones } from '../../../../tests/support/edits.ts';
import { shortBursts } from '../../../../tests/support/playing.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { slicesOfCut } from '../../queries/slices.ts';
import { addModulator, drawModulator, OWN_SOUNDS } from './modulators.ts';
import { duplicatePart } from './copy-part.ts';
import { laySwitch } from './switches.ts';
import { keepTreatment, putTreatmentOn, removeTreatment, renameTreatment } from './treatments.ts';
import { setValue } from './values.ts';

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
const PITCH = { target: OWN_SOUNDS, paramId: 'tuneCents', amount: 1 };
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

  it('holds how its modulators move, and how far; what came since moves nothing in it', () => {
    const { partId, plain } = kept();
    const zoneId = partOf(plain, partId).zoneOrder[1]!;
    const wobbling = unwrap(addModulator(plain, { ownerId: partId, kind: 'steps', ...PITCH }, env));
    const stepsId = Object.keys(wobbling.modulators)[0]!;
    const first = unwrap(keepTreatment(wobbling, { partId }, env));
    const { id: treatmentId } = partOf(first, partId).treatments!.at(-1)!;
    let other = unwrap(drawModulator(first, { modulatorId: stepsId, steps: [0, 1, 0, -1] }, env));
    const owners = [{ kind: 'modulator', id: stepsId }] as const;
    other = unwrap(setValue(other, { owners, param: 'rateHz', change: { to: 7 } }, env));
    other = unwrap(addModulator(other, { ownerId: zoneId, kind: 'lfo', ...PITCH, amount: 0.5 }, env));
    const second = unwrap(keepTreatment(other, { partId }, env));
    const back = unwrap(putTreatmentOn(second, { partId, treatmentId }, env));
    expect(back.modulators[stepsId]).toEqual(first.modulators[stepsId]);
    const [steps, since] = Object.values(back.routes);
    expect(steps!.values).toEqual(Object.values(first.routes)[0]!.values);
    expect(since!.values.amount ?? 0).toBe(0);
    expect(soundsAs(back, partOf(back, partId), partOf(back, partId).treatments!.at(-2)!)).toBe(true);
    const again = unwrap(
      putTreatmentOn(back, { partId, treatmentId: partOf(second, partId).treatments!.at(-1)!.id }, env),
    );
    expect(again.routes).toEqual(second.routes);
    expect(again.modulators).toEqual(second.modulators);
    // A copy of the part has the same of its own.
    const copied = unwrap(duplicatePart(second, { partId }, env));
    const copyId = copied.partOrder[1]!;
    const copyBack = unwrap(putTreatmentOn(copied, { partId: copyId, treatmentId }, env));
    const ofCopy = Object.values(copyBack.modulators).find(({ ownerId }) => ownerId === copyId)!;
    expect(ofCopy.steps).toEqual(first.modulators[stepsId]!.steps);
    expect(copyBack.modulators[stepsId]).toBe(second.modulators[stepsId]);
    expect(openDocument(JSON.parse(JSON.stringify(copyBack)))).toEqual(copyBack);
    // One of before this was kept leaves them alone.
    const { modulators: _, routes: __, ...old } = partOf(second, partId).treatments!.at(-2)!;
    expect(withTreatment(second, partOf(second, partId), old).routes).toBe(second.routes);
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
