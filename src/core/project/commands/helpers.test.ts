import { describe, expect, it } from 'vitest';
import { MOST_HELPERS } from '#core/params/helpers.ts';
import { openDocument } from '#core/document/validate.ts';
import { helpersOf, intervalsOf } from '#core/queries/helpers.ts';
import { movableOfPart } from '#core/queries/targets.ts';
import { unwrap } from '../../../../tests/support/documents.ts';
import { wayProject } from '../../../../tests/support/on-the-way.ts';
import { duplicatePart } from './copy-part.ts';
import {
  addHelper,
  bypassHelper,
  copyHelper,
  drawStrengths,
  moveHelper,
  removeHelper,
  toggleInterval,
} from './helpers.ts';
import { putOnMacro } from './macros.ts';
import { removePart } from './parts.ts';

const kinds = ({ document, partId }: Pick<ReturnType<typeof wayProject>, 'document' | 'partId'>) =>
  helpersOf(document, document.parts[partId]!).map(({ kind }) => kind);

describe('what stands on the way', () => {
  it('comes where it stands best: chords, then runners, echoes last', () => {
    const made = wayProject([]);
    let { document } = made;
    for (const kind of ['echoes', 'chord', 'runner', 'chord'] as const) {
      document = unwrap(addHelper(document, { partId: made.partId, kind }, made.env));
    }
    expect(kinds({ ...made, document })).toEqual(['chord', 'chord', 'runner', 'echoes']);
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
  });

  it('is moved, copied, switched off and taken out; what is gone or has no place is refused in words', () => {
    const made = wayProject([['chord'], ['runner'], ['echoes']]);
    const [chord, runner] = made.helperIds as [string, string];
    const moved = unwrap(moveHelper(made.document, { helperId: chord, place: 2 }, made.env));
    expect(kinds({ ...made, document: moved })).toEqual(['runner', 'echoes', 'chord']);
    const copied = unwrap(copyHelper(moved, { helperId: runner }, made.env));
    expect(kinds({ ...made, document: copied })).toEqual(['runner', 'runner', 'echoes', 'chord']);
    const off = unwrap(bypassHelper(copied, { helperId: runner, bypassed: true }, made.env));
    expect(off.helpers[runner]!.bypassed).toBe(true);
    const out = unwrap(removeHelper(off, { helperId: chord }, made.env));
    expect(kinds({ ...made, document: out })).toEqual(['runner', 'runner', 'echoes']);
    expect(Object.hasOwn(out.helpers, chord)).toBe(false);
    expect(moveHelper(out, { helperId: runner, place: 7 }, made.env)).toEqual({
      ok: false,
      reason: 'there is no such place on the way',
    });
    expect(removeHelper(out, { helperId: chord }, made.env).ok).toBe(false);
  });

  it('is full at its most', () => {
    const made = wayProject(Array.from({ length: MOST_HELPERS }, () => ['echoes'] as ['echoes']));
    expect(addHelper(made.document, { partId: made.partId, kind: 'chord' }, made.env)).toEqual({
      ok: false,
      reason: '8 helpers are the most on one way: take one out first',
    });
    expect(copyHelper(made.document, { helperId: made.helperIds[0]! }, made.env).ok).toBe(false);
  });

  it('a chord gets notes of its own from a named one, and keeps one at least', () => {
    const made = wayProject([['chord', { chord: '5' }]]);
    const [helperId] = made.helperIds as [string];
    let document = unwrap(toggleInterval(made.document, { helperId, semitones: -12 }, made.env));
    expect(intervalsOf(document.helpers[helperId]!)).toEqual([-12, 0, 7]);
    document = unwrap(toggleInterval(document, { helperId, semitones: 0 }, made.env));
    document = unwrap(toggleInterval(document, { helperId, semitones: 7 }, made.env));
    expect(toggleInterval(document, { helperId, semitones: -12 }, made.env).ok).toBe(false);
    expect(toggleInterval(document, { helperId, semitones: 0.5 }, made.env).ok).toBe(false);
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
  });

  it('drawn strengths are brought into their range, as many as there may be', () => {
    const made = wayProject([['runner'], ['echoes']]);
    const [helperId, echoes] = made.helperIds as [string, string];
    const drawn = unwrap(drawStrengths(made.document, { helperId, strengths: [2, -1, NaN, 0.5] }, made.env));
    expect(drawn.helpers[helperId]).toMatchObject({ strengths: [1, 0, 0, 0.5], values: { strength: 'drawn' } });
    expect(drawStrengths(drawn, { helperId, strengths: [1] }, made.env).ok).toBe(false);
    expect(drawStrengths(drawn, { helperId: echoes, strengths: [1, 1] }, made.env).ok).toBe(false);
  });

  it('goes with its part, comes along with a copy of it, and what moved it follows', () => {
    const made = wayProject([['runner']]);
    const [helperId] = made.helperIds as [string];
    const target = { kind: 'helper' as const, id: helperId };
    const args = { place: 0, target, paramId: 'gatePercent', amount: -0.5 };
    const moved = unwrap(putOnMacro(made.document, args, made.env));
    expect(movableOfPart(moved, moved.parts[made.partId]!, 'macro').map(({ words }) => words)).toContain(
      'gate: runner',
    );
    const twice = unwrap(duplicatePart(moved, { partId: made.partId }, made.env));
    const copyId = twice.partOrder[1]!;
    expect(kinds({ document: twice, partId: copyId })).toEqual(['runner']);
    expect(twice.parts[copyId]!.helperOrder).not.toContain(helperId);
    expect(twice.helpers[twice.parts[copyId]!.helperOrder[0]!]).toMatchObject({ partId: copyId });
    const alone = unwrap(removePart(twice, { partId: made.partId }, made.env));
    expect(Object.keys(alone.helpers)).toEqual(twice.parts[copyId]!.helperOrder);
    expect(Object.values(alone.routes).some(({ target: to }) => to.kind === 'helper')).toBe(false);
    const without = unwrap(removeHelper(moved, { helperId }, made.env));
    expect(Object.keys(without.routes)).toEqual([]);
  });
});
