import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import type { ProjectDocument } from '../schema.ts';
import { SCHEMA_VERSION } from '../limits.ts';
import { openDocument } from '../validate.ts';

const frozen = () =>
  JSON.parse(
    readFileSync(new URL('../../../../tests/fixtures/documents/version-6.json', import.meta.url), 'utf8'),
  ) as ProjectDocument;

it('a document of version 6 opens with an empty running order, and all else as it was', () => {
  const { schemaVersion: _, ...old } = frozen();
  const { schemaVersion, sections, sectionOrder, ...now } = openDocument(frozen());
  expect(schemaVersion).toBe(SCHEMA_VERSION);
  expect([sections, sectionOrder]).toEqual([{}, []]);
  expect(now).toEqual(old);
  expect(Object.keys(now.helpers).length).toBeGreaterThan(0);
});
