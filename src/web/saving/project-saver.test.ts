import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaveRequest } from '#core/api/projects.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { LONG_TEXT } from '../api/json-text.ts';
import { ProjectSaver, type SaveApi } from './project-saver.ts';
import { KeptInMemory } from '../../../tests/support/unsaved.ts';

const before = emptyDocument('p1', 'Ferry');
/** More than is written, kept and sent in one go. */
const after: ProjectDocument = { ...before, name: 'x'.repeat(2 * LONG_TEXT) };

let sent: SaveRequest[];
const api: SaveApi = {
  loadProject: async () => ({ document: before, revision: 1 }),
  loadVersion: async () => ({ document: before, revision: 1 }),
  saveProject: async (_id, save) => {
    sent.push(save);
    return { revision: 2 };
  },
  keepVersion: async () => {
    throw new Error('not asked for here');
  },
};
let browser: KeptInMemory;
const kept = () => [...browser.drafts.values()].flatMap(({ saves }) => saves);
const opened = () => ProjectSaver.open('p1', api, browser.newWindow());

beforeEach(() => {
  sent = [];
  browser = new KeptInMemory();
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

describe('a change of hundreds of kilobytes', () => {
  it('is kept in the browser first and sent in a task of its own', async () => {
    const saver = await opened();
    saver.update(after, 'deal');
    void saver.flush();
    expect(kept().map(({ label }) => label)).toEqual(['deal']);
    expect(sent).toEqual([]);
    await vi.runAllTimersAsync();
    expect(sent).toHaveLength(1);
    expect(saver.state).toBe('saved');
    expect(kept()).toEqual([]);
  });

  it('survives a window that is closed in between: the next one sends it', async () => {
    const saver = await opened();
    saver.update(after, 'deal');
    void saver.flush();
    saver.leave();
    vi.clearAllTimers();
    browser.closeAll();
    expect(sent).toEqual([]);
    await opened();
    expect(sent.map(({ label, changes }) => [label, changes.length])).toEqual([['deal', 1]]);
    expect(kept()).toEqual([]);
  });
});
