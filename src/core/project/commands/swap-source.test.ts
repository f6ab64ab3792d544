import { describe, expect, it } from 'vitest';
import { loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { swapSource } from './swap-source.ts';

const AUDIO = {
  sampleRate: 44_100,
  channels: [Float32Array.from({ length: 44_100 }, (_, i) => Math.sin(i / 9) * 0.5)],
};

describe('another source in the place of a cut’s', () => {
  it('all but the source stays, and the old one goes where nothing plays it', () => {
    const { document, cutId, env } = loopProject(AUDIO, [0, 500, 1000]);
    const before = document.sources[document.cuts[cutId]!.sourceId]!;
    const source = { ...before, id: 'f'.repeat(64), name: 'without its hat' };
    const after = unwrap(swapSource(document, { cutId, source }, env));
    expect(after.cuts[cutId]).toEqual({ ...document.cuts[cutId]!, sourceId: source.id });
    expect(Object.keys(after.sources)).toEqual([source.id]);
    expect(after.zones).toBe(document.zones);
  });

  it('what is longer or at another rate is refused, and a cut that is gone', () => {
    const { document, cutId, env } = loopProject(AUDIO, [0, 500, 1000]);
    const before = document.sources[document.cuts[cutId]!.sourceId]!;
    const longer = { ...before, id: 'e'.repeat(64), frames: before.frames + 1 };
    expect(swapSource(document, { cutId, source: longer }, env).ok).toBe(false);
    expect(swapSource(document, { cutId: 'nowhere', source: before }, env).ok).toBe(false);
  });
});
