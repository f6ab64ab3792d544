import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaveRequest } from '#core/api/projects.ts';
import { emptyDocument } from '#core/document/defaults.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { ApiError } from '../api/client.ts';
import { LONG_TEXT } from '../api/json-text.ts';
import { ProjectSaver, type SaveApi } from './project-saver.ts';
import { KeptInMemory } from '../../../tests/support/unsaved.ts';

const before = emptyDocument('p1', 'Ferry');
/** More than is written, kept and sent in one go. */
const after: ProjectDocument = { ...before, name: 'x'.repeat(2 * LONG_TEXT) };

let sent: SaveRequest[];
let keptBeside: string[];
const api: SaveApi = {
  loadProject: async () => ({ document: before, revision: 1 }),
  loadVersion: async () => ({ document: before, revision: 1 }),
  saveProject: async (_id, save) => {
    sent.push(save);
    return { revision: 2 };
  },
  keepVersion: async (_id, { label }) => {
    keptBeside.push(label);
    await new Promise((resolve) => setTimeout(resolve, 50));
    return { id: 'kept-1', kind: 'kept', revision: 1, label, createdAt: 0 };
  },
};
let browser: KeptInMemory;
const kept = () => [...browser.drafts.values()].flatMap(({ saves }) => saves);
const opened = () => ProjectSaver.open('p1', api, browser.newWindow());

beforeEach(() => {
  sent = [];
  keptBeside = [];
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

describe('nothing that is left to save', () => {
  it('does not swallow a change that comes while the browser forgets what it kept', async () => {
    const saver = await opened();
    saver.update({ ...before, name: 'Quay' }, 'rename');
    saver.update(before, 'undo');
    let isForgetting = false;
    browser.beforeRemove = async () => {
      isForgetting = true;
      await new Promise((resolve) => setTimeout(resolve, 50));
      isForgetting = false;
    };
    const saving = saver.flush();
    await vi.advanceTimersByTimeAsync(10);
    expect(isForgetting).toBe(true);
    saver.update({ ...before, name: 'Pier' }, 'rename again');
    await vi.runAllTimersAsync();
    await saving;
    expect(sent.map(({ label }) => label)).toEqual(['rename again']);
    expect(saver.state).toBe('saved');
  });
});

describe('taking what was saved elsewhere', () => {
  it('keeps beside it also what is changed while it is taken', async () => {
    const saver = await opened();
    saver.update({ ...before, name: 'Quay' }, 'rename');
    vi.spyOn(api, 'saveProject').mockRejectedValueOnce(new ApiError(409, 'save.conflict', 'saved elsewhere'));
    await vi.runAllTimersAsync();
    expect(saver.state).toBe('conflict');
    const taking = saver.takeTheirs();
    await vi.advanceTimersByTimeAsync(10);
    saver.update({ ...before, name: 'Pier' }, 'rename again');
    await vi.runAllTimersAsync();
    expect((await taking).name).toBe('Ferry');
    expect(keptBeside).toEqual(['not taken: rename', 'not taken: rename again']);
  });
});
