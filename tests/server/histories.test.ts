/** Databases with long histories, as older versions wrote them: every revision reads as it was, before and after a save. */
import { copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { applyDiff, diff, type Diff } from '#core/document/diff.ts';
import { SCHEMA_VERSION } from '#core/document/limits.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument } from '#core/document/validate.ts';
import { openDatabase } from '../../src/server/db/open.ts';
import { shelfRecordSources, snapshots } from '../../src/server/db/schema.ts';
import { ProjectService } from '../../src/server/services/projects.ts';
import { ShelfRecordService } from '../../src/server/services/shelf-records.ts';
import { VersionService } from '../../src/server/services/versions.ts';

interface Recorded {
  id: string;
  first: unknown;
  changes: Diff[];
  kept: { after: number; changes: Diff } | null;
}

const fixture = (name: string) => new URL(`../fixtures/documents/${name}`, import.meta.url);

/** Each revision as it was written, brought up to date. */
function recorded(version: number) {
  const { id, first, changes, kept } = JSON.parse(readFileSync(fixture(`history-${version}.json`), 'utf8')) as Recorded;
  const written = [first];
  for (const save of changes) written.push(applyDiff(written.at(-1), save));
  const notTaken = kept && openDocument(applyDiff(written[kept.after - 1], kept.changes));
  return { id, written, documents: written.map(openDocument), notTaken };
}

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'yappa-history-'))));
afterEach(() => rmSync(folder, { recursive: true }));

function opened(name: string) {
  const file = join(folder, 'history.sqlite');
  copyFileSync(fixture(name), file);
  const { db, close } = openDatabase(file);
  const service = new ProjectService(db);
  return { db, close, file, service, versions: new VersionService(db, service) };
}

function withTempo(document: ProjectDocument, tempoBpm: number): ProjectDocument {
  return { ...document, song: { ...document.song, values: { ...document.song.values, tempoBpm } } };
}

describe.each([2, 3, 4])('a history of version %i', (version) => {
  const { id, documents, notTaken } = recorded(version);

  it('reads every revision as it was, before and after saves of this version, and in another run', () => {
    const { service, versions, close, file } = opened(`history-${version}.sqlite`);
    const check = (one: ProjectService) =>
      documents.forEach((document, index) =>
        expect([index + 1, one.loadRevision(id, index + 1)]).toEqual([index + 1, document]),
      );
    check(service);
    const current = service.load(id);
    expect(current).toEqual({ document: documents.at(-1), revision: 28 });
    let before = current.document;
    for (const [step, tempoBpm] of [77, 78, 79].entries()) {
      const after = withTempo(before, tempoBpm);
      const changes = diff(before, after);
      service.save(id, { saveId: `later-${step}-save`, baseRevision: 28 + step, label: 'tempo', changes });
      before = after;
      check(service);
    }
    expect(service.loadRevision(id, 29)).toEqual(withTempo(current.document, 77));
    expect(versions.list(id).map(({ revision }) => revision)).toEqual(
      notTaken
        ? [...Array.from({ length: 21 }, (_, index) => 31 - index), 10, ...Array.from({ length: 10 }, (_, i) => 10 - i)]
        : Array.from({ length: 31 }, (_, index) => 31 - index),
    );
    close();
    const again = openDatabase(file);
    check(new ProjectService(again.db));
    again.close();
  });

  it('still has what was not taken in a conflict', () => {
    const { versions, close } = opened(`history-${version}.sqlite`);
    const kept = versions.list(id).filter(({ kind }) => kind === 'kept');
    expect(kept.map((one) => versions.load(id, one.id).document)).toEqual(notTaken ? [notTaken] : []);
    close();
  });

  it('takes what a window of that version had not saved yet, and refuses what is of another', () => {
    if (version < 3) return;
    const { service, close } = opened(`history-${version}.sqlite`);
    const { written } = recorded(version);
    const path = ['song', 'values', 'tempoBpm'];
    const before = (written.at(-1) as ProjectDocument).song.values.tempoBpm;
    const save = {
      saveId: 'kept-in-a-browser',
      baseRevision: 28,
      label: 'tempo',
      changes: [{ path, before, after: 66 }],
    };
    expect(() => service.save(id, { ...save, schemaVersion: 2 })).toThrow('belongs to version 2');
    expect(service.save(id, { ...save, schemaVersion: version })).toEqual({ revision: 29 });
    expect(service.load(id).document).toEqual(withTempo(documents.at(-1)!, 66));
    close();
  });
});

describe('a history that version 4 took over from version 3', () => {
  it('reads right though the older document was kept without its last saves', () => {
    const { db, service, close } = opened('history-3-then-4.sqlite');
    const { id, documents } = recorded(3);
    expect(JSON.parse(db.select().from(snapshots).all().at(-1)!.document)).toMatchObject({ schemaVersion: 3 });
    documents.forEach((document, index) => expect(service.loadRevision(id, index + 1)).toEqual(document));
    expect(service.loadRevision(id, 29)).toEqual(withTempo(documents.at(-1)!, 77));
    expect(service.load(id).document.schemaVersion).toBe(SCHEMA_VERSION);
    close();
  });
});

describe('kits and grooves of version 4', () => {
  it('are on the one shelf of named things, and what was deleted can be brought back', () => {
    const { db, close } = opened('history-4.sqlite');
    const records = new ShelfRecordService(db);
    expect(records.list('kit')).toEqual([{ id: 'kit-a', name: 'Quay kit', createdAt: 1000, facts: { soundCount: 8 } }]);
    expect(records.list('groove')).toMatchObject([
      { id: 'groove-a', name: 'Limp', facts: { groove: { stepTicks: 240 } } },
    ]);
    expect(records.load('kit-a')).toMatchObject({ name: 'Quay kit', cuts: [{}] });
    records.restore('kit-b');
    expect(records.list('kit').map(({ name }) => name)).toEqual(['Quay kit', 'Deleted kit']);
    expect(db.select().from(shelfRecordSources).all()).toEqual([{ recordId: 'kit-a', sourceId: 'source-a' }]);
    close();
  });
});
