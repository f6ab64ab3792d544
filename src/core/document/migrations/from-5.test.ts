import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import type { ProjectDocument } from '../schema.ts';
import { SCHEMA_VERSION } from '../limits.ts';
import { openDocument } from '../validate.ts';

const frozen = () =>
  JSON.parse(
    readFileSync(new URL('../../../../tests/fixtures/documents/version-5.json', import.meta.url), 'utf8'),
  ) as ProjectDocument;

it('a document of version 5 opens with nothing on the way to its keys, and all else as it was', () => {
  const { parts, schemaVersion: _, ...old } = frozen();
  const { parts: nowParts, schemaVersion, helpers, mappings, sections, sectionOrder, ...now } = openDocument(frozen());
  expect(schemaVersion).toBe(SCHEMA_VERSION);
  expect(helpers).toEqual({});
  expect(mappings).toEqual({});
  expect([sections, sectionOrder]).toEqual([{}, []]);
  expect(now).toEqual(old);
  expect(Object.values(nowParts)).toEqual(Object.values(parts).map((part) => ({ ...part, helperOrder: [] })));
});
