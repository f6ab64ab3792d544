// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest';
import { ACTION_IDS, actionOf, actionWords, keyOf, resetShortcuts, setShortcut, shortcuts, tip } from './shortcuts.ts';
import { typingKeyOffset } from '../devices/typing-keys.ts';

const press = (key: string, held: Partial<KeyboardEventInit> = {}) => new KeyboardEvent('keydown', { key, ...held });

afterEach(resetShortcuts);

describe('shortcuts', () => {
  it('have words and a key each, no two the same, none a plain letter or figure: those play slices', () => {
    // What is done now and then is found by its name, and has no key of its own.
    const keys = ACTION_IDS.map((action) => shortcuts[action]).filter((key) => key !== '');
    expect(keys.length).toBeGreaterThan(ACTION_IDS.length - 6);
    expect(new Set(keys).size).toBe(keys.length);
    for (const action of ACTION_IDS) expect(actionWords(action).length).toBeGreaterThan(3);
    for (const key of keys.filter((one) => one.length === 1)) {
      expect(typingKeyOffset(/[a-z]/i.test(key) ? `Key${key.toUpperCase()}` : `Digit${key}`)).toBeNull();
    }
  });

  it('are told from key events, with modifiers; symbols as they are written on any layout', () => {
    expect(keyOf(press(' '))).toBe('Space');
    expect(keyOf(press('z', { ctrlKey: true }))).toBe('Ctrl+z');
    expect(keyOf(press('z', { metaKey: true }))).toBe('Ctrl+z');
    expect(keyOf(press('Z', { ctrlKey: true, shiftKey: true }))).toBe('Ctrl+Shift+Z');
    // A question mark takes Shift on most keyboards and none on some.
    expect(keyOf(press('?', { shiftKey: true }))).toBe('?');
    expect(keyOf(press('Shift', { shiftKey: true }))).toBeNull();
    expect(actionOf(press('z', { ctrlKey: true }))).toBe('undo');
    expect(actionOf(press('q'))).toBeNull();
  });

  it('may be changed: the key leaves the action that had it, and stays changed', () => {
    setShortcut('deal', 'Ctrl+z');
    expect(actionOf(press('z', { ctrlKey: true }))).toBe('deal');
    expect(shortcuts.undo).toBe('');
    expect(tip('undo')).toBe('Undo');
    expect(tip('deal')).toBe('Deal again (Ctrl+z)');
    expect(JSON.parse(localStorage.getItem('yappa.shortcuts')!)).toMatchObject({ deal: 'Ctrl+z', undo: '' });
    resetShortcuts();
    expect(actionOf(press('z', { ctrlKey: true }))).toBe('undo');
    expect(localStorage.getItem('yappa.shortcuts')).toBeNull();
  });
});
