// @vitest-environment happy-dom
import * as fake from 'fake-indexeddb';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { browserUnsaved, type Draft } from './unsaved.ts';

/** Locks as the browser has them, as far as they are used: who holds which. */
let held: Set<string>;
beforeEach(() => {
  held = new Set();
  for (const [name, value] of Object.entries(fake)) if (name.startsWith('IDB')) vi.stubGlobal(name, value);
  vi.stubGlobal('indexedDB', new fake.IDBFactory());
  Object.defineProperty(navigator, 'locks', {
    configurable: true,
    value: {
      request: (name: string) => {
        held.add(name);
        return new Promise(() => undefined);
      },
      query: async () => ({ held: [...held].map((name) => ({ name })) }),
    },
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  Reflect.deleteProperty(navigator, 'locks');
});

const draft = (projectId: string, windowId: string, changedAt: number): Draft => ({
  projectId,
  windowId,
  changedAt,
  saves: [{ saveId: `save-${changedAt}`, baseRevision: 1, label: 'tempo', changes: [{ path: ['name'], after: 'x' }] }],
});

describe('what a window keeps in the browser', () => {
  it('is left to others only when it is gone, the oldest first, one draft a project and window', async () => {
    const first = browserUnsaved();
    expect(await first.put(draft('p1', first.windowId, 5))).toBe(true);
    expect(await first.put(draft('p1', first.windowId, 6))).toBe(true);
    await first.put(draft('p2', first.windowId, 4));
    const second = browserUnsaved();
    await second.put(draft('p1', second.windowId, 2));
    expect(await second.left()).toEqual([]);
    held.clear();
    const third = browserUnsaved();
    expect((await third.left('p1')).map(({ changedAt }) => changedAt)).toEqual([2, 6]);
    expect((await third.left()).map(({ changedAt }) => changedAt)).toEqual([2, 4, 6]);
    await third.remove('p1', second.windowId);
    expect((await third.left('p1')).map(({ changedAt }) => changedAt)).toEqual([6]);
    expect(await third.left('p')).toEqual([]);
  });

  it('is told not to be kept where the browser keeps nothing, and no edit fails for that', async () => {
    vi.stubGlobal('indexedDB', {
      open: () => {
        throw new DOMException('no', 'SecurityError');
      },
    });
    const store = browserUnsaved();
    expect(await store.put(draft('p1', store.windowId, 1))).toBe(false);
    expect(await store.left()).toEqual([]);
    await store.remove('p1', store.windowId);
  });
});
