import { describe, expect, it } from 'vitest';
import { encodeAudio } from '#core/formats/encode.ts';
import { sliceAudio } from '#core/formats/export-slices.ts';
import { loopProject } from '../../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { DEFAULT_TAKE_AWAY, mixName, mixRow, mixTicks, slicesRow, slicesToWrite, sourceRow } from './take-away-rows.ts';

const { audio, starts } = eightStepLoop();
const { document } = loopProject(audio, starts);
const part = document.parts[document.partOrder[0]!]!;
const { mix, slices } = DEFAULT_TAKE_AWAY;

describe('what can be taken away', () => {
  it('the mix is so many rounds of all parts, or of one, as long and as large as they are', () => {
    expect(mixTicks(document, { ...mix, rounds: 3 }, 3840)).toBe(3 * 3840);
    expect(mixTicks(document, { ...mix, onlyPartId: part.id }, 99_999)).toBe(3840);
    const row = mixRow(document, { ...mix, encoding: 'wav16', ringOut: false }, 3840, 44100);
    // 88200 frames of two channels of two bytes, and the header.
    expect(row).toMatchObject({ files: 1, seconds: 2, bytes: 88_200 * 4 + 44, isAbout: false, problem: null });
    expect(mixRow(document, mix, 3840, 44100).isAbout).toBe(true);
  });

  it('the mix of one part is named after it and its pattern', () => {
    const named = { ...document, name: 'Quay / night' };
    expect(mixName(named, mix)).toBe('Quay night.wav');
    expect(mixName(named, { ...mix, onlyPartId: part.id, encoding: 'flac16' })).toBe(
      `Quay night - ${part.name} - home.flac`,
    );
  });

  it('slices are told to the byte before they are written, chosen ones alone', async () => {
    const cutId = part.cutOrder[0]!;
    const all = slicesToWrite(document, cutId, null);
    expect(all).toHaveLength(8);
    const some = slicesToWrite(document, cutId, new Set(Object.keys(document.cuts[cutId]!.slices).slice(0, 3)));
    expect(some).toHaveLength(3);
    const options = { ...slices.options, mono: true };
    const row = slicesRow(document, part, new Map([[cutId, some]]), options, true);
    let bytes = 0;
    for (const slice of some) bytes += (await encodeAudio(sliceAudio(audio, slice, options), options.encoding)).length;
    expect(row).toMatchObject({ files: 3, bytes, isAbout: false, problem: null });
    expect(slicesRow(document, part, new Map([[cutId, []]]), options, true).problem).toBe('no slice is selected');
    expect(slicesRow(document, part, new Map([[cutId, all]]), options, false).problem).toBe(
      'the sound is still being loaded',
    );
  });

  it('the source is as long as it is', () => {
    const row = sourceRow(document, part, part.cutOrder[0]!, true);
    expect(row).toMatchObject({ files: 1, seconds: 2, isAbout: true, problem: null });
    expect(row.fileName).toBe(`${part.name} with markers.wav`);
  });
});
