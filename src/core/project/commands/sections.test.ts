import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap } from '../../../../tests/support/documents.ts';
import { eightStepLoop } from '../../../../tests/support/signals.ts';
import { MOST_SECTIONS } from '../../document/limits.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { openDocument } from '../../document/validate.ts';
import { orderLayout, turnsOf } from '../../order/layout.ts';
import { removePattern } from './patterns.ts';
import { copyPattern } from './patterns.ts';
import { changePlacing, movePlacing, placePattern, removePlacing, splitPlacing, stretchPlacing } from './placings.ts';
import { addSection, copySection, moveSection, removeSection, renameSection, setSectionValue } from './sections.ts';

const BAR = 3840;
const counting = countingEnv();
const env = { ...counting, newId: () => `new-${counting.newId()}` };
const { audio, starts } = eightStepLoop();
const project = loopProject(audio, starts, 1);
const { home, partId } = project;

function empty(lengthBars = 4): { document: ProjectDocument; sectionId: string } {
  const document = unwrap(addSection(project.document, { withPlaying: false, name: 'Quay' }, env));
  const sectionId = document.sectionOrder[0]!;
  const change = { to: lengthBars };
  return { document: unwrap(setSectionValue(document, { sectionId, param: 'lengthBars', change }, env)), sectionId };
}
const placed = (document: ProjectDocument, sectionId: string) =>
  document.sections[sectionId]!.placings.map(({ startTicks, lengthTicks }) => [startTicks / BAR, lengthTicks / BAR]);

describe('sections', () => {
  it('are made of what plays, copied, moved, named and given up', () => {
    let document = unwrap(addSection(project.document, { withPlaying: true }, env));
    const [first] = document.sectionOrder;
    expect(document.sections[first!]!.placings).toMatchObject([
      { partId, patternId: home, startTicks: 0, lengthTicks: BAR },
    ]);
    document = unwrap(copySection(document, { sectionId: first! }, env));
    const [, second] = document.sectionOrder;
    document = unwrap(renameSection(document, { sectionId: second!, name: '  Fog ' }, env));
    document = unwrap(moveSection(document, { sectionId: second!, by: -1 }, env));
    expect(document.sectionOrder.map((id) => document.sections[id]!.name)).toEqual(['Fog', 'section 1']);
    document = unwrap(removeSection(document, { sectionId: first! }, env));
    expect(document.sectionOrder).toEqual([second]);
    expect(() => openDocument(document)).not.toThrow();
  });

  it('refuse what is none: no bars, a way past the ends, too many, too long', () => {
    const { document, sectionId } = empty();
    const set = (param: string, to: number) => setSectionValue(document, { sectionId, param, change: { to } }, env);
    expect(set('lengthBars', 0)).toMatchObject({
      ok: false,
      reason: 'length goes from 1 bars to 512 bars in whole numbers',
    });
    expect(set('repeats', 0.5).ok).toBe(false);
    expect(moveSection(document, { sectionId, by: 1 }, env).ok).toBe(false);
    expect(renameSection(document, { sectionId, name: ' ' }, env).ok).toBe(false);
    let many = document;
    while (many.sectionOrder.length < MOST_SECTIONS) many = unwrap(copySection(many, { sectionId }, env));
    expect(copySection(many, { sectionId }, env)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('2000 sections at most') as string,
    });
    const long = unwrap(setSectionValue(many, { sectionId, param: 'repeats', change: { to: 99 } }, env));
    expect(orderLayout(long).bars).toBe(4 * (MOST_SECTIONS + 98));
    expect(setSectionValue(long, { sectionId, param: 'lengthBars', change: { to: 512 } }, env)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('200000 are the most') as string,
    });
  }, 30_000);

  it('what is played to the end goes on to the new end', () => {
    const { document, sectionId } = empty(2);
    const full = unwrap(placePattern(document, { sectionId, patternId: home, startTicks: BAR }, env));
    const longer = unwrap(setSectionValue(full, { sectionId, param: 'lengthBars', change: { to: 4 } }, env));
    expect(placed(longer, sectionId)).toEqual([[1, 3]]);
  });
});

describe('placed patterns', () => {
  const full = (() => {
    const { document, sectionId } = empty();
    return {
      document: unwrap(
        placePattern(document, { sectionId, patternId: home, startTicks: 0, lengthTicks: 4 * BAR }, env),
      ),
      sectionId,
    };
  })();
  const { sectionId } = full;
  const idOf = (document: ProjectDocument, place = 0) => document.sections[sectionId]!.placings[place]!.id;

  it('give way to what is put on them: cut off, parted, gone', () => {
    const inMiddle = unwrap(placePattern(full.document, { sectionId, patternId: home, startTicks: BAR }, env));
    expect(placed(inMiddle, sectionId)).toEqual([
      [0, 1],
      [1, 1],
      [2, 2],
    ]);
    const over = unwrap(
      placePattern(inMiddle, { sectionId, patternId: home, startTicks: 0.5 * BAR, lengthTicks: 2.5 * BAR }, env),
    );
    expect(placed(over, sectionId)).toEqual([
      [0, 0.5],
      [0.5, 2.5],
      [3, 1],
    ]);
    expect(() => openDocument(over)).not.toThrow();
  });

  it('are moved, copied, stretched, cut and taken out, and stay within their section', () => {
    const at = { sectionId, placingId: idOf(full.document) };
    const short = unwrap(stretchPlacing(full.document, { ...at, startTicks: 0, lengthTicks: BAR }, env));
    const copied = unwrap(
      movePlacing(short, { ...at, toSectionId: sectionId, startTicks: 2 * BAR, copies: true }, env),
    );
    expect(placed(copied, sectionId)).toEqual([
      [0, 1],
      [2, 1],
    ]);
    const moved = unwrap(movePlacing(copied, { ...at, toSectionId: sectionId, startTicks: 3.5 * BAR }, env));
    expect(placed(moved, sectionId)).toEqual([
      [2, 1],
      [3.5, 0.5],
    ]);
    const cut = unwrap(splitPlacing(full.document, { ...at, atTicks: 1.5 * BAR }, env));
    expect(placed(cut, sectionId)).toEqual([
      [0, 1.5],
      [1.5, 2.5],
    ]);
    expect(splitPlacing(full.document, { ...at, atTicks: 10 }, env).ok).toBe(false);
    expect(placed(unwrap(removePlacing(cut, { sectionId, placingId: idOf(cut, 0) }, env)), sectionId)).toEqual([
      [1.5, 2.5],
    ]);
    expect(placePattern(full.document, { sectionId, patternId: home, startTicks: 4 * BAR }, env).ok).toBe(false);
    expect(placePattern(full.document, { sectionId, patternId: 'nobody', startTicks: 0 }, env).ok).toBe(false);
  });

  it('a fill is played in the last round, before what else lies there; what is muted rests', () => {
    const more = unwrap(placePattern(full.document, { sectionId, patternId: home, startTicks: 3 * BAR }, env));
    const fill = unwrap(changePlacing(more, { sectionId, placingId: idOf(more, 1), isFill: true }, env));
    const muted = unwrap(changePlacing(fill, { sectionId, placingId: idOf(fill, 0), muted: true }, env));
    const turns = (document: ProjectDocument, isLast: boolean) =>
      turnsOf(document.sections[sectionId]!.placings, partId, 4 * BAR, isLast).map((one) => [
        one.startTicks / BAR,
        one.patternId,
      ]);
    expect(turns(muted, false)).toEqual([[0, '']]);
    expect(turns(muted, true)).toEqual([
      [0, ''],
      [3, home],
    ]);
  });

  it('go with their pattern, and come back with it', () => {
    const copy = unwrap(copyPattern(full.document, { partId, patternId: home }, env));
    const patternId = copy.parts[partId]!.activePatternId;
    const both = unwrap(placePattern(copy, { sectionId, patternId, startTicks: 0 }, env));
    const without = unwrap(removePattern(both, { patternId }, env));
    expect(() => openDocument(without)).not.toThrow();
    expect(without.sections[sectionId]!.placings.map((one) => one.patternId)).toEqual([home]);
    expect(both.sections[sectionId]!.placings).toHaveLength(2);
  });
});
