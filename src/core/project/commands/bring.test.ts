/** Bringing things together: sounds of one part on keys of another, and a second loop in a part. */
import { oneKey } from '../../queries/free-keys.ts';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../../../../tests/support/documents.ts';
import { KeyedPart } from '../../../../tests/support/keys.ts';
import { noise, sine } from '../../../../tests/support/signals.ts';
import { partValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { openDocument } from '../../document/validate.ts';
import { bringSounds } from './bring.ts';
import { addModulator } from './modulators.ts';
import { duplicatePart } from './copy-part.ts';
import { addCut } from './parts.ts';
import { setVelocities, layZone } from './zones.ts';

let count = 0;
const env = { newId: () => `b${++count}`, newSeed: () => 1 };
const sixteen = () =>
  new KeyedPart(
    [noise(16 * 2000, 2)],
    Array.from({ length: 16 }, (_, n) => n * 2000),
  );
const zonesIn = (document: ProjectDocument, partId: string) => zonesOfPart(document, document.parts[partId]!);

describe('sounds brought to another part', () => {
  it('lie on its free keys with all settings, and stay where they were', () => {
    const part = sixteen().zones({ gainDb: -5, decayMs: 90 }, [2]);
    const two = unwrap(duplicatePart(part.document, { partId: part.partId }, env));
    const other = two.partOrder[1]!;
    const zoneIds = [part.zoneIds[2]!, part.zoneIds[4]!];
    const moved = unwrap(addModulator(two, { ownerId: zoneIds[0]!, kind: 'lfo', paramId: 'pan', amount: 1 }, env));
    const brought = unwrap(bringSounds(moved, { zoneIds, partId: other, partName: '', key: null }, env));
    const added = zonesIn(brought, other).slice(16);
    // Slices lie from 48 to 63: the first free keys from where kits begin.
    expect(added.map(({ keys }) => keys!.low)).toEqual([36, 37]);
    expect(added.map(({ at }) => [at.startFrame, at.endFrame])).toEqual([
      [4000, 6000],
      [8000, 10_000],
    ]);
    expect(zoneValues(added[0]!.zone)).toMatchObject({ gainDb: -5, decayMs: 90 });
    expect(Object.values(brought.modulators).map(({ ownerId }) => ownerId)).toEqual([zoneIds[0], added[0]!.zone.id]);
    expect(Object.values(brought.routes)).toHaveLength(2);
    expect(zonesIn(brought, part.partId)).toEqual(zonesIn(moved, part.partId));
    expect(() => openDocument(JSON.parse(JSON.stringify(brought)))).not.toThrow();
  });

  it('bring their layers along, and make a kit of a new part', () => {
    const part = sixteen();
    const [a, b, c] = part.zoneIds as [string, string, string];
    let { document } = part;
    for (const zoneId of [a, b]) document = unwrap(layZone(document, { zoneId, keys: oneKey(48) }, env));
    document = unwrap(setVelocities(document, { zoneIds: [a], velocities: { low: 1, high: 60, fade: 0 } }, env));
    const args = { zoneIds: [a, c], partId: null, partName: 'kit', key: null };
    const brought = unwrap(bringSounds(document, args, env));
    const kit = brought.parts[brought.partOrder[1]!]!;
    expect(kit.name).toBe('kit');
    expect(partValues(kit).oneAtATime).toBe(false);
    const added = zonesIn(brought, kit.id);
    expect(added.map(({ keys }) => keys!.low)).toEqual([36, 36, 37]);
    expect(added.map(({ zone }) => zone.velocities.high)).toEqual([60, 127, 127]);
    const own = { ...args, partId: part.partId };
    expect(bringSounds(document, own, env)).toMatchObject({ ok: false, reason: 'they are of this part already' });
  });
});

describe('a second loop in a part', () => {
  const secondLoop = (frames: number) => ({
    source: { id: 'second', name: 'second', sampleRate: 44_100, channels: 1, frames },
    loop: { startFrame: 0, endFrame: frames, bars: 2, beatsPerBar: 4 },
    tempoReadings: [],
    slices: [0, frames / 2].map((startFrame) => ({
      startFrame,
      strength: 1,
      role: 'snare' as const,
      roleConfidence: 1,
      brightnessHz: 200,
      midi: null,
      cents: null,
    })),
  });

  it('has its own reading, lies after the first, and sounds beside it', () => {
    const part = new KeyedPart([sine(300, 1)], [0, 20_000]).part({ oneAtATime: true });
    const added = unwrap(addCut(part.document, { partId: part.partId, ...secondLoop(88_200) }, env));
    expect(zonesIn(added, part.partId).map(({ keys }) => keys!.low)).toEqual([48, 49, 50, 51]);
    const { cutOrder } = added.parts[part.partId]!;
    expect(cutOrder.map((id) => added.cuts[id]!.loop!.bars)).toEqual([1, 2]);
    expect(partValues(added.parts[part.partId]!).oneAtATime).toBe(false);
  });

  it('does not lie down between what was laid by hand: it takes the free keys above', () => {
    const part = new KeyedPart([sine(300, 1)], [0, 20_000]);
    const keys = { low: 50, high: 74, root: 62 };
    const laid = unwrap(layZone(part.document, { zoneId: part.zoneIds[0]!, keys }, env));
    const added = unwrap(addCut(laid, { partId: part.partId, ...secondLoop(88_200) }, env));
    expect(zonesIn(added, part.partId).map((one) => one.keys!.low)).toEqual([50, 49, 75, 76]);
  });
});
