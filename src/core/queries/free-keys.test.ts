import { describe, expect, it } from 'vitest';
import { countingEnv, unwrap } from '../../../tests/support/documents.ts';
import { KeyedPart } from '../../../tests/support/keys.ts';
import { noise } from '../../../tests/support/signals.ts';
import { layByDrum, layInRow, spreadZone } from '../project/commands/lay.ts';
import { copyZone, layZone } from '../project/commands/zones.ts';
import { firstLetterKey, freeRange, oneKey } from './free-keys.ts';
import { zonesOfPart } from './zones.ts';

const env = countingEnv();
const sixteen = () =>
  new KeyedPart(
    [noise(16 * 2000, 2)],
    Array.from({ length: 16 }, (_, n) => n * 2000),
  );
const placedOf = ({ document, partId }: KeyedPart) => zonesOfPart(document, document.parts[partId]!);

describe('free keys', () => {
  it('lie around a root, up to what is taken', () => {
    const part = sixteen();
    const [first] = part.zoneIds;
    // Slices lie from 48 to 63.
    expect(freeRange(placedOf(part), first!, 70, 24)).toEqual({ low: 64, high: 94, root: 70 });
    expect(freeRange(placedOf(part), first!, 48, 24)).toEqual({ low: 24, high: 48, root: 48 });
    // On another's key: the same note in the widest stretch of all, 64 to 127.
    expect(freeRange(placedOf(part), first!, 52, 24)).toEqual({ low: 76, high: 124, root: 100 });
  });

  it('are none when all is taken', () => {
    const part = sixteen();
    const all = { zoneId: part.zoneIds[3]!, keys: { low: 0, high: 127, root: 60 } };
    part.document = unwrap(spreadZone(part.document, all, env));
    expect(freeRange(placedOf(part), part.zoneIds[0]!, 60, 24)).toBeNull();
  });
});

describe('a pad moves with all its layers', () => {
  it.each(['upwards', 'by drum'])('%s', (how) => {
    const part = sixteen();
    const [a, b] = part.zoneIds as [string, string];
    for (const zoneId of [a, b]) part.document = unwrap(layZone(part.document, { zoneId, keys: oneKey(48) }, env));
    const copy = { ...env, newId: () => 'layer' };
    part.document = unwrap(copyZone(part.document, { zoneId: a, keys: oneKey(48) }, copy));
    const zoneIds = [a, part.zoneIds[5]!];
    const laid = unwrap(
      how === 'upwards'
        ? layInRow(part.document, { zoneIds, startKey: 90, keys: 'all' }, env)
        : layByDrum(part.document, { zoneIds }, env),
    );
    const keyOf = (id: string) => zonesOfPart(laid, laid.parts[part.partId]!).find(({ zone }) => zone.id === id)!.keys;
    expect([keyOf(b), keyOf('layer')]).toEqual([keyOf(a), keyOf(a)]);
    expect(keyOf(part.zoneIds[5]!)).not.toEqual(keyOf(a));
  });
});

describe('the key of the first letter', () => {
  const layAll = (part: KeyedPart, from: number) => {
    part.document = unwrap(layInRow(part.document, { zoneIds: part.zoneIds, startKey: from, keys: 'all' }, env));
    return placedOf(part);
  };

  it('is where the part begins, as long as its sounds are there', () => {
    expect(firstLetterKey(placedOf(sixteen()), 48)).toBe(48);
    expect(firstLetterKey([], 48)).toBe(48);
    // Half of them lie in reach: it stays.
    expect(firstLetterKey(layAll(sixteen(), 69), 48)).toBe(48);
  });

  it('follows whole octaves to where they were laid, or spread', () => {
    expect(firstLetterKey(layAll(sixteen(), 90), 48)).toBe(84);
    expect(firstLetterKey(layAll(sixteen(), 4), 48)).toBe(0);
    const part = sixteen();
    const laid = layAll(part, 110).map(({ zone }) => zone.id);
    part.document = unwrap(spreadZone(part.document, { zoneId: laid[0]!, keys: { low: 12, high: 40, root: 30 } }, env));
    expect(firstLetterKey(placedOf(part), 48)).toBe(12);
  });
});
