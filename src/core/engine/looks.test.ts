/** Treatments that the running order and patterns put on: where, how exactly, from anywhere, and under edits while they are on. */
import { describe, expect, it } from 'vitest';
import { keepTreatment, removeTreatment } from '#core/project/commands/treatments.ts';
import { duplicatePart } from '#core/project/commands/copy-part.ts';
import { copyPattern, removePattern } from '#core/project/commands/patterns.ts';
import {
  changesOver,
  layTreatmentChange,
  moveTreatmentChange,
  removeTreatmentChange,
} from '#core/project/commands/treatment-changes.ts';
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
import { energy, LiveSong, planOf, play, set, shortBursts } from '../../../tests/support/playing.ts';
import { firstDifference } from '../../../tests/support/signals.ts';
import { bounce } from './bounce.ts';
import { PlanCompiler } from './plan/compile.ts';
import { Renderer } from './renderer.ts';

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

describe('a pattern that puts treatments on', () => {
  const HALF_TICKS = BAR_TICKS / 2;

  /** Its own order of slices, with a treatment from the middle on; the same without, and with it as the part's own sound. */
  function fromMiddle(sound: Partial<ZoneValues> = { tuneCents: 700, gainDb: -6 }, isHome = true) {
    const made = inSecondSection(zones(sound));
    const { partId, treatmentId } = made;
    let { document } = made;
    if (!isHome) document = unwrap(copyPattern(document, { partId, patternId: made.home }, env));
    const patternId = document.parts[partId]!.activePatternId;
    const changed = unwrap(layTreatmentChange(document, { patternId, at: HALF_TICKS, treatmentId }, env));
    expect(brokenRule(changed)).toBeNull();
    const alone = { ...document, zones: made.alone.document.zones };
    return {
      ...made,
      patternId,
      document: changed,
      before: { ...made, document },
      alone: { ...made, document: alone },
    };
  }

  const rounds = (project: LoopProject, frames: number, fromTicks = 0) => play(planOf(project), frames, fromTicks);

  it.each([true, false])('has them on from there to the end of each round, to the frame (home: %s)', (isHome) => {
    const made = fromMiddle(undefined, isHome);
    const [heard, plain, treated] = [made, made.before, made.alone].map((one) => rounds(one, 2 * BAR)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (const round of [0, BAR]) {
      const part = (of: Float32Array, from: number, to: number) => of.subarray(round + from, round + to);
      expect(firstDifference(part(heard, 300, BAR / 2 - 300), part(plain, 300, BAR / 2 - 300))).toBe(-1);
      expect(firstDifference(part(heard, BAR / 2 + 300, BAR - 300), part(treated, BAR / 2 + 300, BAR - 300))).toBe(-1);
    }
    expect(firstDifference(heard, plain)).toBeGreaterThanOrEqual(BAR / 2 - 300);
  });

  it('is in its place when the song begins behind it, and the same in blocks of any size', () => {
    const made = fromMiddle();
    const [heard, treated] = [rounds(made, BAR / 4, HALF_TICKS), rounds(made.alone, BAR / 4, HALF_TICKS)];
    expect(firstDifference(heard, treated)).toBe(-1);
    const inBlocks = (block: number) => {
      const renderer = new Renderer(RATE);
      renderer.setPlan(planOf(made));
      renderer.play(HALF_TICKS - 480);
      const [left, right] = [new Float32Array(40_000), new Float32Array(40_000)];
      for (let at = 0; at < left.length; at += block) {
        const count = Math.min(block, left.length - at);
        renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
      }
      return left;
    };
    const wanted = inBlocks(441);
    for (const block of [1, 127, 128, 4096]) expect(firstDifference(inBlocks(block), wanted)).toBe(-1);
  });

  it('goes before what the running order puts on, and lets it through where it has none on itself', async () => {
    const made = fromMiddle({ gainDb: -6 });
    const { partId, patternId } = made;
    const [other] = unwrap(keepTreatment(zones({ gainDb: -18 })(made.document, partId), { partId }, env)).parts[
      partId
    ]!.treatments!.slice(-1);
    const part = made.document.parts[partId]!;
    const both = { ...part, treatments: [...part.treatments!, other!] };
    const document = unwrap(
      layTreatmentChange(
        { ...made.document, parts: { ...made.document.parts, [partId]: both } },
        { patternId, at: HALF_TICKS, treatmentId: other!.id },
        env,
      ),
    );
    const heard = await played({ ...made, document });
    const loudness = (from: number) => 10 * Math.log10(energy(heard, from + 400, from + BAR / 2 - 400));
    // By itself, then 18 dB down; in the section with a treatment 6 dB down, then 18 dB down.
    const [itself, low, section, lowAgain] = [0, BAR / 2, BAR, 1.5 * BAR].map(loudness) as [
      number,
      number,
      number,
      number,
    ];
    expect(low - itself).toBeCloseTo(-18, 0);
    expect(lowAgain - low).toBeCloseTo(0, 0);
    expect(section - itself).toBeCloseTo(-6, 0);
  });

  it('is heard when it is laid while the song runs, and no longer when the song stands', () => {
    const made = fromMiddle({ gainDb: -24 });
    const song = new LiveSong(made.before.document, made.assets);
    song.renderer.play(HALF_TICKS);
    const level = (frames: number) => 10 * Math.log10(energy(song.next(frames), 0, frames) / frames);
    const before = level(BAR / 4);
    song.edit(made.document);
    song.next(1000);
    const after = level(BAR / 4 - 1000);
    expect(after - before).toBeLessThan(-15);
    song.renderer.stop();
    song.next(4000);
    song.renderer.playZone(made.document.parts[made.partId]!.zoneOrder[0]!, 1);
    const stopped = level(3000);
    song.edit(made.before.document);
    song.renderer.allSoundOff();
    song.next(2000);
    song.renderer.playZone(made.document.parts[made.partId]!.zoneOrder[0]!, 1);
    expect(stopped).toBeCloseTo(level(3000), 5);
  });

  it('keeps them in copies, moves them, gives them up with what they name; what is no place or none is refused', () => {
    const made = fromMiddle();
    const { document, partId, patternId, treatmentId } = made;
    const over = (of: ProjectDocument, id = patternId) => changesOver(of.parts[partId]!, id);
    const copied = unwrap(copyPattern(document, { partId, patternId }, env));
    expect(over(copied, copied.parts[partId]!.activePatternId)).toEqual([{ at: HALF_TICKS, treatmentId }]);
    const part = unwrap(duplicatePart(document, { partId }, env));
    const copy = part.parts[part.partOrder.at(-1)!]!;
    expect(brokenRule(part)).toBeNull();
    expect(Object.values(copy.treatmentChanges!)).toEqual([[{ at: HALF_TICKS, treatmentId }]]);
    expect(Object.keys(copy.treatmentChanges!)).not.toEqual([patternId]);

    const two = unwrap(layTreatmentChange(document, { patternId, at: 960, treatmentId: null }, env));
    expect(over(two)).toEqual([{ at: 960 }, { at: HALF_TICKS, treatmentId }]);
    const moved = unwrap(moveTreatmentChange(two, { patternId, at: HALF_TICKS, to: 480 }, env));
    expect(over(moved).map(({ at }) => at)).toEqual([480, 960]);
    const onto = unwrap(moveTreatmentChange(two, { patternId, at: 960, to: HALF_TICKS }, env));
    expect(over(onto)).toEqual([{ at: HALF_TICKS }]);
    const none = unwrap(removeTreatmentChange(document, { patternId, at: HALF_TICKS }, env));
    expect(none.parts[partId]).not.toHaveProperty('treatmentChanges');
    const given = unwrap(removeTreatment(two, { partId, treatmentId }, env));
    expect(over(given)).toEqual([{ at: 960 }]);
    expect(brokenRule(given)).toBeNull();
    const gone = unwrap(removePattern(copied, { patternId: copied.parts[partId]!.activePatternId }, env));
    expect(Object.keys(gone.parts[partId]!.treatmentChanges!)).toEqual([patternId]);

    const refused = (result: { ok: boolean }) => expect(result.ok).toBe(false);
    refused(layTreatmentChange(document, { patternId, at: BAR_TICKS, treatmentId }, env));
    refused(layTreatmentChange(document, { patternId, at: 0, treatmentId: 'none' }, env));
    refused(layTreatmentChange(document, { patternId: 'none', at: 0, treatmentId }, env));
    refused(moveTreatmentChange(document, { patternId, at: 7, to: 0 }, env));
    refused(removeTreatmentChange(document, { patternId, at: 7 }, env));
    const twice = { ...document.parts[partId]!, treatmentChanges: { [patternId]: [{ at: 5 }, { at: 5 }] } };
    expect(brokenRule({ ...document, parts: { ...document.parts, [partId]: twice } })).toContain('not in order');
    const unknown = { ...twice, treatmentChanges: { [patternId]: [{ at: 5, treatmentId: 'none' }] } };
    expect(brokenRule({ ...document, parts: { ...document.parts, [partId]: unknown } })).toContain('unknown treatment');
  });
});
