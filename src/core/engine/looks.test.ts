/** Treatments that the running order puts on: where, how exactly, from anywhere, and under edits while they are on. */
import { describe, expect, it } from 'vitest';
import { keepTreatment, removeTreatment } from '#core/project/commands/treatments.ts';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { changePlacing } from '#core/project/commands/placings.ts';
import { addSection } from '#core/project/commands/sections.ts';
import { addEffect, bypassEffect } from '#core/project/commands/effects.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { orderLayout } from '#core/order/layout.ts';
import type { ZoneValues } from '#core/params/tables.ts';
import { brokenRule } from '#core/document/validate.ts';
import { countingEnv, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { setEvents, setPart, setZones, type PartSettings } from '../../../tests/support/edits.ts';
import { energy, LiveSong, planOf, set, shortBursts } from '../../../tests/support/playing.ts';
import { firstDifference } from '../../../tests/support/signals.ts';
import { bounce } from './bounce.ts';
import { PlanCompiler } from './plan/compile.ts';

const RATE = 44_100;
const BAR = 2 * RATE;
const BAR_TICKS = 3840;
const env = { ...countingEnv(), newId: () => crypto.randomUUID() };
const channelOf = (document: ProjectDocument) => Object.values(document.parts)[0]!.channelId;

function withGain(document: ProjectDocument, gainDb: number): ProjectDocument {
  const owners = [{ kind: 'channel', id: channelOf(document) } as const];
  return unwrap(setValue(document, { owners, param: 'gainDb', change: { to: gainDb } }, env));
}

/**
 * Two sections of a bar each that play the same; in the second one a treatment is on. `alone` has what the treatment
 * says as the part's own sound, and nothing on.
 */
function inSecondSection(
  treat: (document: ProjectDocument, partId: string) => ProjectDocument,
  settings: PartSettings = {},
): LoopProject & { treatmentId: string; alone: LoopProject; plain: LoopProject } {
  const made = set(shortBursts(), { oneAtATime: true, ...settings }, 120);
  const { partId } = made;
  let plain = made.document;
  for (let n = 0; n < 2; n++) plain = unwrap(addSection(plain, { withPlaying: true }, env));
  const kept = unwrap(keepTreatment(treat(plain, partId), { partId }, env));
  const { treatments } = kept.parts[partId]!;
  const { id: treatmentId } = treatments![0]!;
  const document = { ...plain, parts: { ...plain.parts, [partId]: { ...plain.parts[partId]!, treatments } } };
  const sectionId = plain.sectionOrder[1]!;
  const placingId = plain.sections[sectionId]!.placings[0]!.id;
  const placed = unwrap(changePlacing(document, { sectionId, placingId, treatmentId }, env));
  expect(brokenRule(placed)).toBeNull();
  return {
    ...made,
    document: placed,
    treatmentId,
    plain: { ...made, document: plain },
    alone: { ...made, document: kept },
  };
}

const zones =
  (sound: Partial<ZoneValues>) =>
  (document: ProjectDocument, partId: string): ProjectDocument =>
    unwrap(setZones(document, { partId, sliceIds: Object.keys(sliceIdsOf(document, partId)), sound }));

function sliceIdsOf(document: ProjectDocument, partId: string): Record<string, true> {
  const zonesHere = document.parts[partId]!.zoneOrder.map((id) => document.zones[id]!);
  return Object.fromEntries(
    zonesHere.flatMap(({ plays }) => (plays.kind === 'slice' ? [[plays.sliceId, true as const]] : [])),
  );
}

async function played({ document, ...rest }: LoopProject, fromTicks = 0, blockFrames = 441) {
  const { lengthTicks } = orderLayout(document);
  const options = { fromTicks, lengthTicks: lengthTicks - fromTicks, followsOrder: true, blockFrames };
  return (await bounce(planOf({ ...rest, document }), options)).channels[0]!;
}

describe('a treatment in the running order', () => {
  it('sounds as the part would with it, from the first frame of its section to the last', async () => {
    const made = inSecondSection(zones({ tuneCents: 700, reverse: true, gainDb: -6 }));
    const [heard, plain, alone] = [await played(made), await played(made.plain), await played(made.alone)];
    expect(energy(plain, BAR, 2 * BAR)).not.toBeCloseTo(energy(alone, BAR, 2 * BAR), 1);
    expect(firstDifference(heard.subarray(0, BAR - 200), plain.subarray(0, BAR - 200))).toBe(-1);
    expect(firstDifference(heard.subarray(BAR + 200, 2 * BAR), alone.subarray(BAR + 200, 2 * BAR))).toBe(-1);
  });

  it('brings transposed and stretched samples along', async () => {
    const transposed = (document: ProjectDocument, partId: string) =>
      unwrap(setPart(document, { partId, settings: { transposeCents: 500 } }));
    const made = inSecondSection(transposed, { follow: 'stretch' });
    const [heard, plain, alone] = [await played(made), await played(made.plain), await played(made.alone)];
    expect(firstDifference(heard.subarray(0, BAR - 200), plain.subarray(0, BAR - 200))).toBe(-1);
    expect(firstDifference(heard.subarray(BAR + 400, 2 * BAR), alone.subarray(BAR + 400, 2 * BAR))).toBe(-1);
    expect(firstDifference(heard.subarray(BAR, 2 * BAR), plain.subarray(BAR, 2 * BAR))).toBeGreaterThan(-1);
  });

  it('an effect that it takes out is out in its section, and a level is reached without a step', async () => {
    const treat = (document: ProjectDocument) => {
      const [effectId] = document.channels[channelOf(document)]!.effectOrder as [string];
      return unwrap(bypassEffect(withGain(document, -12), { effectId, bypassed: true }, env));
    };
    const base = shortBursts();
    const withEffect = (document: ProjectDocument) =>
      unwrap(addEffect(document, { channelId: channelOf(document), kind: 'drive' }, env));
    const made = set({ ...base, document: withEffect(base.document) }, { oneAtATime: true }, 120);
    expect(made.document.channels[channelOf(made.document)]!.effectOrder).toHaveLength(1);
    let plain = made.document;
    for (let n = 0; n < 2; n++) plain = unwrap(addSection(plain, { withPlaying: true }, env));
    const { partId } = made;
    const kept = unwrap(keepTreatment(treat(plain), { partId }, env));
    const { treatments } = kept.parts[partId]!;
    const document = { ...plain, parts: { ...plain.parts, [partId]: { ...plain.parts[partId]!, treatments } } };
    const sectionId = plain.sectionOrder[1]!;
    const placingId = plain.sections[sectionId]!.placings[0]!.id;
    const on = unwrap(changePlacing(document, { sectionId, placingId, treatmentId: treatments![0]!.id }, env));
    const [heard, alone] = [await played({ ...made, document: on }), await played({ ...made, document: kept })];
    // The fade of what is taken out, and the way of a fader, are over by then.
    const from = BAR + Math.round(0.24 * RATE);
    for (let at = from; at < 2 * BAR; at++) expect(Math.abs(heard[at]! - alone[at]!)).toBeLessThan(1e-4);
  });

  it('is there at once when the song begins in its middle', async () => {
    const made = inSecondSection((document, partId) => withGain(zones({ tuneCents: -500 })(document, partId), -12));
    for (const ticks of [BAR_TICKS, BAR_TICKS + 960]) {
      const [heard, alone] = [await played(made, ticks), await played(made.alone, ticks)];
      expect(firstDifference(heard, alone)).toBe(-1);
    }
  });

  it('gives the same samples in blocks of any size', async () => {
    const made = inSecondSection((document, partId) => withGain(zones({ tuneCents: 300 })(document, partId), -9));
    const wanted = await played(made);
    for (const blockFrames of [1, 127, 128, 4096]) {
      expect(firstDifference(await played(made, 0, blockFrames), wanted)).toBe(-1);
    }
  });

  it('is off when the song is stopped: keys sound as the part does by itself', () => {
    const made = inSecondSection(zones({ gainDb: -24 }));
    const song = new LiveSong(made.document, made.assets);
    const press = () => {
      const part = made.document.parts[made.partId]!;
      song.renderer.playZone(part.zoneOrder[0]!, 1);
      const heard = song.next(3000);
      song.renderer.allSoundOff();
      song.next(2000);
      return Math.sqrt(energy(heard, 0, 3000));
    };
    const before = press();
    song.renderer.play(BAR_TICKS, Infinity, { followsOrder: true, returnTicks: null });
    song.next(4000);
    song.renderer.stop();
    song.next(4000);
    expect(press()).toBeCloseTo(before, 6);
  });

  it('an edit of how the part sounds by itself waits under it, and is heard after it', () => {
    const made = inSecondSection(zones({ gainDb: -12 }));
    // Round and round: the second section, then the first.
    const along = { followsOrder: true, returnTicks: 0 };
    const song = new LiveSong(made.document, made.assets);
    song.renderer.play(BAR_TICKS, 2 * BAR_TICKS, along);
    song.next(BAR / 4);
    const gain = (document: ProjectDocument, gainDb: number) => zones({ gainDb })(document, made.partId);
    const lower = gain(made.document, -6);
    expect(song.edit(lower)?.looks).toHaveLength(1);
    const inTreatment = Math.sqrt(energy(song.next(BAR / 4), 0, BAR / 4));
    song.next(BAR / 2);
    const after = Math.sqrt(energy(song.next(BAR / 2), 0, BAR / 2)) / Math.SQRT2;
    expect(20 * Math.log10(inTreatment / after)).toBeCloseTo(-6, 0);
    // And the treatment itself may be changed while it is on.
    const again = new LiveSong(lower, made.assets);
    again.renderer.play(BAR_TICKS, 2 * BAR_TICKS, along);
    again.next(BAR / 4);
    again.edit(unwrap(removeTreatment(lower, { partId: made.partId, treatmentId: made.treatmentId }, env)));
    const freed = Math.sqrt(energy(again.next(BAR / 4), 0, BAR / 4));
    expect(20 * Math.log10(freed / inTreatment)).toBeCloseTo(6, 0);
  });

  it('costs nothing where a pattern is edited', () => {
    const made = inSecondSection(zones({ gainDb: -12 }));
    const { partId } = made;
    const copied = unwrap(
      copyPattern(made.document, { partId, patternId: made.document.parts[partId]!.activePatternId }, env),
    );
    const compiler = new PlanCompiler();
    const { assets } = made;
    expect(compiler.update(copied, { assets })?.looks).toHaveLength(1);
    const patternId = copied.parts[partId]!.patternOrder.at(-1)!;
    const eventIds = Object.keys(copied.patterns[patternId]!.events).slice(0, 1);
    const edited = unwrap(setEvents(copied, { patternId, eventIds, settings: { gainDb: -3 } }));
    const patch = compiler.update(edited, { assets });
    expect(patch?.splices).toHaveLength(1);
    expect(patch?.looks).toBeUndefined();
    expect(patch?.zones).toEqual([]);
    // What is moved by hand alone is sent with the looks that lie over it.
    const moved = zones({ gainDb: -1 })(edited, partId);
    expect(compiler.update(moved, { assets })?.looks).toHaveLength(1);
  });
});

describe('what is placed with a treatment', () => {
  it('goes back to the part’s own sound when the treatment is given up; an unknown one is refused', () => {
    const made = inSecondSection(zones({ gainDb: -12 }));
    const { partId, treatmentId, document } = made;
    const given = unwrap(removeTreatment(document, { partId, treatmentId }, env));
    expect(given.sections[document.sectionOrder[1]!]!.placings[0]).not.toHaveProperty('treatmentId');
    expect(brokenRule(given)).toBeNull();
    const sectionId = document.sectionOrder[0]!;
    const placingId = document.sections[sectionId]!.placings[0]!.id;
    const refused = changePlacing(document, { sectionId, placingId, treatmentId: 'none' }, env);
    expect(refused).toMatchObject({ ok: false, reason: 'this treatment is gone' });
    const second = document.sections[document.sectionOrder[1]!]!;
    const at = { sectionId: second.id, placingId: second.placings[0]!.id };
    const none = unwrap(changePlacing(document, { ...at, treatmentId: null }, env));
    expect(none.sections[second.id]!.placings[0]).not.toHaveProperty('treatmentId');
    const kept = unwrap(changePlacing(document, { ...at, muted: true }, env));
    expect(kept.sections[second.id]!.placings[0]).toMatchObject({ muted: true, treatmentId });
    const broken = {
      ...given,
      sections: Object.fromEntries(
        Object.values(given.sections).map((one) => [
          one.id,
          { ...one, placings: one.placings.map((placed) => ({ ...placed, treatmentId })) },
        ]),
      ),
    };
    expect(brokenRule(broken)).toContain('unknown treatment');
  });
});
