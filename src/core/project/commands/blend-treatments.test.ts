import { describe, expect, it } from 'vitest';
import { unwrap } from '../../../../tests/support/documents.ts';
import { planOf, play, shortBursts } from '../../../../tests/support/playing.ts';
import { openDocument } from '../../document/validate.ts';
import type { ProjectDocument } from '../../document/schema.ts';
import { patternLengthTicks } from '../../queries/patterns.ts';
import { songValues } from '../../queries/values.ts';
import { framesPerTick } from '../../units/time.ts';
import { macrosOf, routesFrom } from '../../queries/macros.ts';
import { blendTreatments } from './blend-treatments.ts';
import { addEffect, bypassEffect } from './effects.ts';
import { keepTreatment, putTreatmentOn } from './treatments.ts';
import { setValue, type Owner } from './values.ts';

const RATE = 44_100;

function twoTreatments() {
  // Bursts apart from each other: what touches is joined only where both are moved alike.
  const project = shortBursts();
  const { env, partId, assets } = project;
  const { channelId } = project.document.parts[partId]!;
  const zones = project.document.parts[partId]!.zoneOrder.map((id): Owner => ({ kind: 'zone', id }));
  let document = unwrap(addEffect(project.document, { channelId, kind: 'filter' }, env));
  const effectId = document.channels[channelId]!.effectOrder[0]!;
  const set = (owners: Owner[], param: string, to: number) =>
    (document = unwrap(setValue(document, { owners, param, change: { to } }, env)));
  document = unwrap(keepTreatment(document, { partId, name: 'plain' }, env));
  const plain = document;
  set(zones, 'gainDb', -9);
  set(zones.slice(0, 2), 'pan', 0.5);
  set([{ kind: 'channel', id: channelId }], 'gainDb', -4);
  set([{ kind: 'effect', id: effectId }], 'cutoffHz', 700);
  document = unwrap(bypassEffect(document, { effectId, bypassed: false }, env));
  document = unwrap(keepTreatment(document, { partId, name: 'dull' }, env));
  const [from, to] = document.parts[partId]!.treatments!.map(({ id }) => id) as [string, string];
  return { document, plain, env, partId, from, to, assets, patternId: document.parts[partId]!.activePatternId };
}

type Made = ReturnType<typeof twoTreatments>;
const sound = (document: ProjectDocument, assets: Made['assets']) =>
  play(planOf({ document, assets } as never), 2 * RATE);

const SLICE = 11_025;
/** Away from where slices touch: they are joined there only where both are moved alike. */
const farthest = (a: Float32Array, b: Float32Array, from = 0, to = a.length) => {
  let most = 0;
  for (let i = from; i < to; i++) {
    if (Math.min(i % SLICE, SLICE - (i % SLICE)) > 400) most = Math.max(most, Math.abs(a[i]! - b[i]!));
  }
  return most;
};

describe('a dial from one treatment to another', () => {
  it('sounds as the one at 0 and as the other at 1; what all sounds have in common is one way', () => {
    const { document, env, partId, from, to, assets } = twoTreatments();
    const blended = unwrap(blendTreatments(document, { partId, fromId: from, toId: to, place: 0 }, env));
    expect(openDocument(structuredClone(blended))).toEqual(blended);
    const [dial] = macrosOf(blended);
    expect(dial!.name).toBe('plain – dull');
    // Level of all sounds, pan of two, level of the channel, cutoff of the effect.
    expect(routesFrom(blended, dial!.id)).toHaveLength(5);
    const put = (treatmentId: string) => unwrap(putTreatmentOn(document, { partId, treatmentId }, env));
    expect(farthest(sound(blended, assets), sound(put(from), assets))).toBeLessThan(1e-6);
    const owners: Owner[] = [{ kind: 'modulator', id: dial!.id }];
    const turned = unwrap(setValue(blended, { owners, param: 'position', change: { to: 1 } }, env));
    expect(farthest(sound(turned, assets), sound(put(to), assets))).toBeLessThan(1e-4);
    // Half way is neither.
    const half = sound(unwrap(setValue(blended, { owners, param: 'position', change: { to: 0.5 } }, env)), assets);
    expect(farthest(half, sound(put(to), assets))).toBeGreaterThan(0.01);
    expect(farthest(half, sound(put(from), assets))).toBeGreaterThan(0.01);
  });

  it('rests where the second is put on as such, and leads on from the first', () => {
    const { document, env, partId, from, to, assets } = twoTreatments();
    const blended = unwrap(blendTreatments(document, { partId, fromId: from, toId: to, place: 0 }, env));
    const owners: Owner[] = [{ kind: 'modulator', id: macrosOf(blended)[0]!.id }];
    const turned = unwrap(setValue(blended, { owners, param: 'position', change: { to: 1 } }, env));
    const atSecond = unwrap(putTreatmentOn(turned, { partId, treatmentId: to }, env));
    const plainSecond = unwrap(putTreatmentOn(document, { partId, treatmentId: to }, env));
    expect(farthest(sound(atSecond, assets), sound(plainSecond, assets))).toBeLessThan(1e-4);
    const back = unwrap(putTreatmentOn(atSecond, { partId, treatmentId: from }, env));
    expect(farthest(sound(back, assets), sound(turned, assets))).toBe(0);
  });

  it('over a pattern: the first half sounds as the one, the second half as the other', () => {
    const { document, env, partId, from, to, assets, patternId } = twoTreatments();
    const over = unwrap(blendTreatments(document, { partId, fromId: from, toId: to, place: 0, patternId }, env));
    const heard = sound(over, assets);
    const [first, second] = [from, to].map((treatmentId) =>
      sound(unwrap(putTreatmentOn(document, { partId, treatmentId }, env)), assets),
    ) as [Float32Array, Float32Array];
    const half = Math.round((patternLengthTicks(over, patternId) / 2) * framesPerTick(songValues(over).tempoBpm, RATE));
    expect(half).toBe(4 * SLICE);
    expect(farthest(heard, first, 0, half)).toBeLessThan(1e-6);
    expect(farthest(heard, second, half + SLICE, 2 * half)).toBeLessThan(2e-3);
    expect(farthest(heard, first, half + SLICE, 2 * half)).toBeGreaterThan(0.01);
  });

  it('is refused where nothing differs that can be moved, and at a place that is taken', () => {
    const { document, env, partId, from, to } = twoTreatments();
    expect(blendTreatments(document, { partId, fromId: from, toId: from, place: 0 }, env)).toMatchObject({ ok: false });
    const once = unwrap(blendTreatments(document, { partId, fromId: from, toId: to, place: 0 }, env));
    expect(blendTreatments(once, { partId, fromId: from, toId: to, place: 0 }, env)).toMatchObject({ ok: false });
  });
});
