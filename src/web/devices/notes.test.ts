import { describe, expect, it } from 'vitest';
import type { ToEngine } from '#core/engine/messages.ts';
import { DeviceKeys, NoteInput } from './notes.ts';

/** An engine whose sound takes a while to start. */
function engine() {
  const sent: ToEngine[] = [];
  let started: () => void = () => undefined;
  const ready = new Promise<void>((resolve) => (started = resolve));
  const input = new NoteInput({
    resume: () => ready,
    send: (message) => sent.push(message),
    timeAt: (milliseconds) => milliseconds / 1000 + 100,
  });
  return { input, sent, started };
}

const kinds = (sent: readonly ToEngine[]) =>
  sent.map((one) => (one.type === 'note-on' || one.type === 'note-off' ? `${one.type} ${one.noteId}` : one.type));

describe('keys', () => {
  it('a short first tap while the sound starts: the release never overtakes the press', async () => {
    const { input, sent, started } = engine();
    const press = input.press('p', 48, 0.9);
    input.release(press);
    expect(kinds(sent)).toEqual(['note-on 1', 'note-off 1']);
    started();
    await Promise.resolve();
    expect(kinds(sent)).toEqual(['note-on 1', 'note-off 1']);
  });

  it('are let go by their press, whatever part is chosen by then', () => {
    const { input, sent } = engine();
    const keys = new DeviceKeys(input);
    keys.down(4, 'first', 52, 0.9);
    keys.down(5, 'second', 60, 0.9);
    keys.up(4);
    expect(sent.map((one) => (one.type === 'note-on' ? [one.type, one.partId, one.key] : one.type))).toEqual([
      ['note-on', 'first', 52],
      ['note-on', 'second', 60],
      'note-off',
    ]);
    expect(kinds(sent).at(-1)).toBe('note-off 1');
  });

  it('pressed twice without a release are let go first, and a second release does nothing', () => {
    const { input, sent } = engine();
    const keys = new DeviceKeys(input);
    keys.down(4, 'p', 52, 0.9);
    keys.down(4, 'p', 52, 0.5);
    keys.up(4);
    keys.up(4);
    expect(kinds(sent)).toEqual(['note-on 1', 'note-off 1', 'note-on 2', 'note-off 2']);
  });

  it('of two devices do not let each other go; all are let go together', () => {
    const { input, sent } = engine();
    const typed = new DeviceKeys(input);
    const midi = new DeviceKeys(input);
    typed.down(52, 'p', 52, 0.9);
    midi.down(52, 'p', 52, 0.5);
    typed.allUp();
    expect(kinds(sent)).toEqual(['note-on 1', 'note-on 2', 'note-off 1']);
    input.releaseAll();
    midi.up(52);
    expect(kinds(sent)).toEqual(['note-on 1', 'note-on 2', 'note-off 1', 'note-off 2']);
  });

  it('carry the time at which they were played, on the audio clock', () => {
    const { input, sent } = engine();
    input.release(input.press('p', 48, 0.9, 2_000), 2_500);
    expect(sent.map((one) => 'timeSeconds' in one && one.timeSeconds)).toEqual([102, 102.5]);
  });
});
