import { describe, expect, it } from 'vitest';
import { openDocument } from '#core/document/validate.ts';
import type { MappingTarget, ProjectDocument } from '#core/document/schema.ts';
import { mappedValue, mappedWords, mappingsOn } from '#core/queries/mappings.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { wayProject } from '../../../../tests/support/on-the-way.ts';
import { removeHelper } from './helpers.ts';
import { addMapping, removeMapping } from './mappings.ts';
import { removePart } from './parts.ts';
import { setValue } from './values.ts';

const made = wayProject([['runner']]);
const [helperId] = made.helperIds as [string];
const dial = { device: 'box', channel: null, source: { kind: 'control' as const, number: 21 } };
const gate: MappingTarget = { kind: 'setting', owner: 'helper', id: helperId, paramId: 'gatePercent' };
const decay: MappingTarget = { kind: 'setting', owner: 'sounds', id: made.partId, paramId: 'decayMs' };
const deal: MappingTarget = { kind: 'action', does: 'deal', id: made.partId };

const withAll = (): ProjectDocument =>
  [gate, decay, deal].reduce(
    (document, target) => unwrap(addMapping(document, { ...dial, target }, made.env)),
    made.document,
  );

describe('mappings', () => {
  it('one controller moves several settings, over ranges of their own, and acts', () => {
    let document = withAll();
    const [first] = Object.values(document.mappings);
    const owners = [{ kind: 'mapping' as const, id: first!.id }];
    document = unwrap(setValue(document, { owners, param: 'from', change: { to: 1 } }, made.env));
    document = unwrap(setValue(document, { owners, param: 'to', change: { to: 0.2 } }, made.env));
    expect(document.mappings[first!.id]!.values).toEqual({ from: 1, to: 0.2 });
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
    expect(Object.values(document.mappings).map(({ target }) => mappedWords(document, target))).toEqual([
      'gate: runner',
      'decay: all of loop',
      'deal: loop',
    ]);
    expect(mappedValue(document, gate as never)).toBe(100);
    expect(
      mappingsOn(document, { kind: 'zone', id: document.parts[made.partId]!.zoneOrder[3]! }, 'decayMs'),
    ).toHaveLength(1);
  });

  it('the same once more, and what is gone or unknown, is refused in words', () => {
    const document = withAll();
    expect(addMapping(document, { ...dial, target: gate }, made.env)).toEqual({
      ok: false,
      reason: 'this controller does so already',
    });
    expect(addMapping(document, { ...dial, target: { ...gate, id: 'gone' } as MappingTarget }, made.env).ok).toBe(
      false,
    );
    expect(
      addMapping(document, { ...dial, target: { ...gate, paramId: 'nothing' } as MappingTarget }, made.env),
    ).toEqual({
      ok: false,
      reason: 'there is no setting "nothing" to move',
    });
    const [id] = Object.keys(document.mappings);
    expect(Object.keys(unwrap(removeMapping(document, { mappingId: id! }, made.env)).mappings)).toHaveLength(2);
    expect(removeMapping(document, { mappingId: 'gone' }, made.env).ok).toBe(false);
  });

  it('goes with what it moves', () => {
    const document = withAll();
    expect(Object.keys(unwrap(removeHelper(document, { helperId }, made.env)).mappings)).toHaveLength(2);
    expect(Object.keys(unwrap(removePart(document, { partId: made.partId }, made.env)).mappings)).toEqual([]);
  });

  it('a document whose controller moves what is gone is not opened', () => {
    const document = withAll();
    const { helpers: _gone, ...rest } = document;
    const parts = Object.fromEntries(
      Object.entries(rest.parts).map(([id, part]) => [id, { ...part, helperOrder: [] }]),
    );
    expect(() => openDocument({ ...rest, parts, helpers: {} })).toThrow(/moves what is gone/);
  });
});
