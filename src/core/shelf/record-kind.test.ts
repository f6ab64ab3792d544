import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { KIT_VERSION, type Kit } from '../project/kit-of.ts';
import { AppError } from '../units/errors.ts';
import { GROOVE_KIND } from './groove.ts';
import { KIT_KIND } from './kit.ts';
import { openRecord, type RecordKind } from './record-kind.ts';

const frozen = () =>
  JSON.parse(readFileSync(new URL('../../../tests/fixtures/documents/kit-4.json', import.meta.url), 'utf8')) as Kit;
const groove = { name: 'Limp', stepTicks: 240, steps: [{ shift: 0, accent: 1 }] };

describe('a record of the shelf', () => {
  it('of version 4 of kits opens, whatever version documents are of', () => {
    const kit = openRecord(KIT_KIND, frozen());
    expect(kit).toMatchObject({ name: 'Frozen kit', schemaVersion: KIT_VERSION });
    expect(kit.zones).toHaveLength(8);
  });

  it('goes through the migrations of its own kind', () => {
    const next: RecordKind<Kit, object> = {
      ...KIT_KIND,
      version: 6,
      migrations: {
        4: (json) => ({ ...(json as Kit), name: `${(json as Kit).name}, five` }),
        5: (json) => ({ ...(json as Kit), name: `${(json as Kit).name}, six` }),
      },
      read: (json) => json as Kit,
    };
    expect(openRecord(next, frozen()).name).toBe('Frozen kit, five, six');
  });

  it.each([
    ['nothing', undefined, 'it has no schemaVersion'],
    ['a word', 'kit', 'it has no schemaVersion'],
    ['no version', { name: 'x' }, 'it has no schemaVersion'],
    ['a newer one', { ...frozen(), schemaVersion: 99 }, 'newer version'],
    ['one that never was', { ...frozen(), schemaVersion: 2 }, 'no kit of version 2'],
    ['a list', [], 'it has no schemaVersion'],
  ])('that is %s is refused in words', (_what, json, words) => {
    expect(() => openRecord(KIT_KIND, json)).toThrow(AppError);
    expect(() => openRecord(KIT_KIND, json)).toThrow(words);
  });

  const zone = () => frozen().zones[0]!;
  const cut = () => frozen().cuts[0]!;
  it.each<[string, Partial<Kit>]>([
    [
      'a zone on a cut that is not in it',
      { zones: [{ ...zone(), plays: { ...zone().plays, cutId: 'other' } as never }] },
    ],
    [
      'a zone on a slice that is not there',
      { zones: [{ ...zone(), plays: { ...zone().plays, sliceId: 'none' } as never }] },
    ],
    ['a cut of a sound that is not in it', { sources: {} }],
    ['a loop beyond its sound', { cuts: [{ ...cut(), loop: { ...cut().loop!, endFrame: 2_000_000_000 } }] }],
    ['two zones of one id', { zones: [zone(), zone()] }],
    ['a modulator of nobody', { modulators: [{ id: 'm', ownerId: 'nobody', kind: 'lfo', values: {} } as never] }],
    ['a route from nowhere', { routes: [{ id: 'r', modulatorId: 'none', paramId: 'gainDb', amount: 1 } as never] }],
    ['a sound under another id', { sources: { 'source-a': { ...frozen().sources['source-a']!, id: 'source-b' } } }],
    [
      'a slice that ends before it starts',
      {
        cuts: [
          { ...cut(), slices: { a: { ...Object.values(cut().slices)[0]!, id: 'a', startFrame: 90, endFrame: 10 } } },
        ],
      },
    ],
  ])('that is unsound is refused: %s', (_what, change) => {
    expect(() => openRecord(KIT_KIND, { ...frozen(), ...change })).toThrow(AppError);
  });

  it('is a groove without saying which version it is of', () => {
    expect(openRecord(GROOVE_KIND, groove)).toEqual(groove);
    expect(() => openRecord(GROOVE_KIND, { ...groove, steps: [] })).toThrow('steps');
  });
});
