import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { useWork } from './work.ts';

describe('long work', () => {
  beforeEach(() => setActivePinia(createPinia()));

  it('counts what of a kind is done, and starts anew when none is left', () => {
    const work = useWork();
    const ids = ['a.wav', 'b.wav', 'c.wav'].map((name) =>
      work.begin({ kind: 'import', name, share: null, cancel: null }),
    );
    work.update(ids[0]!, { share: 0.5 });
    expect(work.summary).toMatchObject({ words: 'Importing 1 of 3', share: 0.5 / 3 });
    work.end(ids[0]!);
    work.update(ids[1]!, { share: 0.25 });
    expect(work.summary).toMatchObject({ words: 'Importing 2 of 3', share: 1.25 / 3 });
    work.end(ids[1]!);
    work.end(ids[2]!);
    expect(work.summary).toBeNull();
    work.begin({ kind: 'import', name: 'd.wav', share: 0, cancel: null });
    expect(work.summary!.words).toBe('Importing d.wav');
  });

  it('gives up everything at once, what waits before what runs', () => {
    const work = useWork();
    const given: string[] = [];
    for (const name of ['first', 'second']) {
      work.begin({ kind: 'import', name, share: 0, cancel: () => given.push(name) });
    }
    work.begin({ kind: 'stretch', name: 'slices', share: 0, cancel: null });
    expect(work.summary!.canCancel).toBe(true);
    work.cancelAll();
    expect(given).toEqual(['second', 'first']);
  });

  it('keeps what failed until it has been read', () => {
    const work = useWork();
    work.fail('h.flac: the file is damaged');
    work.fail('k.txt: this is no sound');
    expect(work.failures.map(({ words }) => words)).toEqual(['h.flac: the file is damaged', 'k.txt: this is no sound']);
    work.forgetFailures();
    expect(work.failures).toEqual([]);
  });
});
