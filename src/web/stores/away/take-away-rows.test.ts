import { describe, expect, it } from 'vitest';
import { encodeAudio } from '#core/formats/encode.ts';
import { sliceAudio, sliceFileNames } from '#core/formats/export-slices.ts';
import { loopProject } from '../../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import {
  DEFAULT_TAKE_AWAY,
  mixName,
  mixRow,
  mixRange,
  slicesInOrder,
  slicesRow,
  slicesToWrite,
  sourceRow,
  type SliceOrder,
} from './take-away-rows.ts';

const { audio, starts } = eightStepLoop();
const { document } = loopProject(audio, starts);
const part = document.parts[document.partOrder[0]!]!;
const { mix, slices } = DEFAULT_TAKE_AWAY;

describe('what can be taken away', () => {
  it('the mix is so many rounds of all parts, or of one, as long and as large as they are', () => {
    expect(mixRange(document, { ...mix, rounds: 3 }, 3840).lengthTicks).toBe(3 * 3840);
    expect(mixRange(document, { ...mix, onlyPartId: part.id }, 99_999).lengthTicks).toBe(3840);
    const round = { fromTicks: 0, lengthTicks: 3840, followsOrder: false };
    const row = mixRow(document, { ...mix, encoding: 'wav16', ringOut: false }, round);
    // 88200 frames of two channels of two bytes, and the header.
    expect(row).toMatchObject({ files: 1, seconds: 2, bytes: 88_200 * 4 + 44, isAbout: false, problem: null });
    expect(mixRow(document, mix, round).isAbout).toBe(true);
  });

  it('a kit is a folder of files named by their keys', () => {
    const all = slicesToWrite(document, part.cutOrder[0]!, null);
    const options = { ...slices.options, namePattern: '{key} {role}' };
    const names = sliceFileNames(all, 'Kit', options);
    expect(names).toHaveLength(8);
    // The first key of a part is 48, called C2 here as everywhere in the application.
    expect(names[0]).toMatch(/^048 C\d [a-z ]+\.wav$/);
    expect(names.toSorted()).toEqual(names);
  });

  it('the mix of one part is named after it and its pattern', () => {
    const named = { ...document, name: 'Quay / night' };
    expect(mixName(named, mix)).toBe('Quay night.wav');
    expect(mixName(named, { ...mix, onlyPartId: part.id, encoding: 'flac16' })).toBe(
      `Quay night - ${part.name} - home.flac`,
    );
  });

  it('slices are told to the byte before they are written, chosen ones alone', async () => {
    const all = slicesInOrder(document, part, null, 'source');
    expect(all).toHaveLength(8);
    const cutId = part.cutOrder[0]!;
    const only = new Set(Object.keys(document.cuts[cutId]!.slices).slice(0, 3));
    const some = slicesInOrder(document, part, only, 'source');
    expect(some).toHaveLength(3);
    const options = { ...slices.options, mono: true };
    const wish = { options, asSounding: false };
    const row = slicesRow(document, part, some, wish, true);
    let bytes = 0;
    for (const { slice } of some)
      bytes += (await encodeAudio(sliceAudio(audio, slice, options), options.encoding)).length;
    expect(row).toMatchObject({ files: 3, bytes, isAbout: false, problem: null });
    expect(slicesRow(document, part, [], wish, true).problem).toBe('no slice is selected');
    expect(slicesRow(document, part, all, wish, false).problem).toBe('the sound is still being loaded');
  });

  it('slices come in the order that is chosen; what they are goes before where they lie', () => {
    const inOrder = (order: SliceOrder) => slicesInOrder(document, part, null, order).map(({ slice }) => slice);
    const starts = inOrder('source').map(({ startFrame }) => startFrame);
    expect(starts).toEqual(starts.toSorted((a, b) => a - b));
    expect(inOrder('key').map(({ key }) => key)).toEqual(
      inOrder('source')
        .map(({ key }) => key)
        .toSorted(),
    );
    const places = inOrder('role').map(({ role }) => ROLES.indexOf(role as Role));
    expect(places).toEqual(places.toSorted((a, b) => a - b));
  });

  it('the source is as long as it is', () => {
    const row = sourceRow(document, part, part.cutOrder[0]!, 'wav', true);
    expect(row).toMatchObject({ files: 1, seconds: 2, isAbout: true, problem: null });
    expect(row.fileName).toBe(`${part.name} with markers.wav`);
  });
});
