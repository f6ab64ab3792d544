/** Databases that older versions wrote: everything in them is there, and stays. */
import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SCHEMA_VERSION } from '#core/document/limits.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { openDatabase } from '../../src/server/db/open.ts';
import { documents, projects } from '../../src/server/db/schema.ts';
import { ProjectService } from '../../src/server/services/projects.ts';
import { VersionService } from '../../src/server/services/versions.ts';
import { setPart } from '../support/edits.ts';
import { unwrap } from '../support/documents.ts';
import { diff } from '#core/document/diff.ts';

let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'yappa-older-'));
  file = join(folder, 'older.sqlite');
});
afterEach(() => rmSync(folder, { recursive: true }));

function opened() {
  const { db, close } = openDatabase(file);
  const service = new ProjectService(db);
  return { db, close, service, versions: new VersionService(db, service) };
}

const transposed = (document: ProjectDocument) => partValues(document.parts[document.partOrder[0]!]!).transposeCents;
const tuned = (document: ProjectDocument) =>
  Object.values(document.zones).filter((zone) => zoneValues(zone).tuneCents === 150).length;

describe('a database of version 2', () => {
  beforeEach(() => copyFileSync(new URL('../fixtures/documents/version-2.sqlite', import.meta.url), file));

  it('lists its projects, and opens them in the newest version', () => {
    const { service, close } = opened();
    const [project] = service.list();
    expect(service.list()).toHaveLength(1);
    expect(project).toMatchObject({ id: 'demo-crossing', revision: 4, partCount: 4, tempoBpm: 101 });
    const { document, revision } = service.load('demo-crossing');
    expect([document.schemaVersion, revision]).toEqual([SCHEMA_VERSION, 4]);
    expect([transposed(document), tuned(document) > 4]).toEqual([-200, true]);
    close();
  });

  it('reads each revision as it was, before and after the first save of the newest version', () => {
    const { service, versions, close } = opened();
    const check = () => {
      const [first, second, third] = [1, 2, 3].map((revision) => service.loadRevision('demo-crossing', revision));
      expect([transposed(first!), tuned(first!)]).toEqual([0, 0]);
      expect([transposed(second!), tuned(second!)]).toEqual([-200, 0]);
      expect(tuned(third!)).toBeGreaterThan(4);
      expect(third!.patterns).toEqual(second!.patterns);
    };
    check();
    const { document } = service.load('demo-crossing');
    const partId = document.partOrder[0]!;
    const after = unwrap(setPart(document, { partId, settings: { transposeCents: 300 } }));
    const changes = diff(document, after);
    service.save('demo-crossing', { saveId: 'new-1', baseRevision: 4, label: 'transpose', changes });
    check();
    expect(service.loadRevision('demo-crossing', 4)).toEqual(document);
    expect(service.loadRevision('demo-crossing', 5)).toEqual(after);
    expect(versions.list('demo-crossing').map(({ label }) => label)).toEqual([
      'transpose',
      'deal',
      'tune of slices',
      'transpose',
      'as it was begun',
    ]);
    close();
    // Another run of the program reads the same.
    const again = opened();
    expect(again.service.load('demo-crossing').document).toEqual(after);
    expect(transposed(again.service.loadRevision('demo-crossing', 2))).toBe(-200);
    again.close();
  });

  it('brings back what was deleted, and copies an old revision into a project of its own', () => {
    const { service, versions, close } = opened();
    service.restore('demo-empty');
    expect(service.load('demo-empty').document.partOrder).toEqual([]);
    const copy = versions.copy('demo-crossing', '2');
    expect(transposed(service.load(copy.id).document)).toBe(-200);
    expect(copy.id).not.toBe('demo-crossing');
    close();
  });
});

describe('a project of version 1', () => {
  it('is opened, changed and saved, and its older revision stays open', () => {
    const json = readFileSync(new URL('../fixtures/documents/version-1.json', import.meta.url), 'utf8');
    const { id, name } = JSON.parse(json) as { id: string; name: string };
    const { db, service, close } = opened();
    db.insert(projects).values({ id, name, revision: 1, createdAt: 1, updatedAt: 1 }).run();
    db.insert(documents).values({ projectId: id, revision: 1, schemaVersion: 1, document: json }).run();
    const { document } = service.load(id);
    expect(document.schemaVersion).toBe(SCHEMA_VERSION);
    const [cutId] = Object.keys(document.cuts);
    const changes = [{ path: ['cuts', cutId!, 'values', 'follow'], after: 'speed' }];
    service.save(id, { saveId: 'save-0001', baseRevision: 1, label: 'follow', changes });
    expect(service.load(id).document.cuts[cutId!]!.values.follow).toBe('speed');
    expect(service.loadRevision(id, 1)).toEqual(document);
    close();
  });
});
