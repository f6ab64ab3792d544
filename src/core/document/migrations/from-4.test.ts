import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { kitOf } from '../../project/kit-of.ts';
import type { ProjectDocument } from '../schema.ts';
import { SCHEMA_VERSION } from '../limits.ts';
import { openDocument } from '../validate.ts';
import { KIT_KIND } from '../../shelf/kit.ts';
import { openRecord } from '../../shelf/record-kind.ts';

const frozen = () =>
  JSON.parse(
    readFileSync(new URL('../../../../tests/fixtures/documents/version-4.json', import.meta.url), 'utf8'),
  ) as ProjectDocument;

describe('a document of version 4', () => {
  it('opens with what could not be heard as it was written set right, and all else as it was', () => {
    const old = frozen();
    const now = openDocument(frozen());
    expect(now.schemaVersion).toBe(SCHEMA_VERSION);
    const [first, second] = Object.keys(old.zones).sort();
    const { frames } = Object.values(old.sources)[0]!;
    expect(now.zones[first!]!.loop).toEqual({ startFrame: 1000, endFrame: frames, crossfadeFrames: frames - 1000 });
    expect(now.zones[second!]!.loop).toBeNull();
    expect(Object.values(now.cuts)[0]!.tempoReadings.map(({ bpm }) => bpm)).toEqual([120]);
    expect(now.modulators['curve-a']!.points!.map(({ at }) => at)).toEqual([0, 0.5, 1]);
    expect(now.patterns).toEqual(old.patterns);
    expect(now.parts).toEqual({ 'id-1': { ...old.parts['id-1']!, helperOrder: [] } });
  });

  it('is set right in the same way as a kit', () => {
    const old = frozen();
    const kit = { ...kitOf(old, Object.values(old.parts)[0]!, 'kit'), schemaVersion: 4 };
    const opened = openRecord(KIT_KIND, JSON.parse(JSON.stringify(kit)));
    const now = openDocument(frozen());
    expect(opened.zones.map(({ loop }) => loop)).toEqual(opened.zones.map(({ id }) => now.zones[id]!.loop));
    expect(opened.modulators[0]!.points!.map(({ at }) => at)).toEqual([0, 0.5, 1]);
  });
});
