/** Doubles: another sound under chosen hits, on their frames, blended at equal power, as strong as the hits themselves. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { LiveSong, planOf, play } from '../../../tests/support/playing.ts';
import { rmsOf } from '../../../tests/support/keys.ts';
import { firstDifference, noise } from '../../../tests/support/signals.ts';
import type { AudioData } from '../dsp/audio.ts';
import { homeId } from '../document/home-id.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { problemOfChange } from '../document/validate.ts';
import { addBus, removeBus } from '../project/commands/channels.ts';
import { addDouble, leadDouble, removeDouble, setDoubleHits } from '../project/commands/doubles.ts';
import { addLane } from '../project/commands/lanes.ts';
import { putOnMacro } from '../project/commands/macros.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { removeCut } from '../project/commands/parts.ts';
import { mergeSlices } from '../project/commands/slices.ts';
import { keepTreatment, putTreatmentOn } from '../project/commands/treatments.ts';
import { setValue, type Value } from '../project/commands/values.ts';
import { layZone } from '../project/commands/zones.ts';
import { Renderer } from './renderer.ts';

const RATE = 44_100;
/** A bar of 120 bpm: eight hits of noise, the last of them is the double's sound and plays in no pattern of ours. */
const STARTS = Array.from({ length: 8 }, (_, step) => step * 11_025);
const LEVELS = [1, 0.5, 0.8, 0.25, 1, 0.5, 0.8, 0.6];

function drums(): LoopProject & { zoneIds: string[] } {
  const samples = noise(88_200, 7);
  const shaped = samples.map((x, i) => {
    const place = Math.floor(i / 11_025);
    const into = i % 11_025;
    return into > 6_000 ? 0 : 0.3 * LEVELS[place]! * x;
  });
  const project = loopProject({ sampleRate: RATE, channels: [shaped] } as AudioData, STARTS, 1);
  return { ...project, zoneIds: project.document.parts[project.partId]!.zoneOrder };
}

const env = (() => {
  const counting = countingEnv();
  return { ...counting, newId: () => `made-${counting.newId()}` };
})();

function set(document: ProjectDocument, id: string, param: string, to: Value): ProjectDocument {
  return unwrap(setValue(document, { owners: [{ kind: 'double', id }], param, change: { to } }, env));
}

/** The first seven are doubled by the last. */
function doubled(values: { blend?: number; follow?: number } = {}) {
  const made = drums();
  const { partId, zoneIds } = made;
  let document = unwrap(
    addDouble(made.document, { partId, zoneIds: zoneIds.slice(0, 7), soundId: zoneIds[7]!, name: 'under' }, env),
  );
  const doubleId = document.parts[partId]!.doubles![0]!.id;
  for (const [param, to] of Object.entries(values)) document = set(document, doubleId, param, to);
  expect(problemOfChange(made.document, document)).toBeNull();
  return { ...made, document, doubleId, plain: made.document };
}
const heard = (made: LoopProject) => play(planOf(made), 88_200);

describe('a double', () => {
  it('sounds from the frame of each hit on, and of no other', () => {
    const made = doubled({ blend: 1, follow: 0 });
    const audio = made.assets.values().next().value!.channels[0]!;
    const left = heard(made);
    const sound = audio.subarray(STARTS[7]!, STARTS[7]! + 6_000);
    for (const start of STARTS.slice(0, 7)) {
      // The hit itself is gone: what sounds is the double, from its first frame on.
      for (let i = 200; i < 5_800; i += 37)
        expect(left[start + i]! / sound[i]!).toBeCloseTo(left[200]! / sound[200]!, 3);
    }
  });

  it('leaves the loop as it is at 0, to the sample', () => {
    const made = doubled({ blend: 0 });
    const plain = heard({ ...made, document: made.plain });
    // Slices that are doubled are not joined to their neighbours: fades at their ends, in silence here.
    expect(firstDifference(heard(made), plain)).toBe(-1);
  });

  it('is as loud in the middle as at either end, for unlike sounds of one level', () => {
    const levels = [0, 0.5, 1].map((blend) => {
      const left = heard(doubled({ blend, follow: 0 }));
      // The first and the fifth hit are whole; the double has 0.6 of that.
      return rmsOf(left, 0, 6_000);
    });
    const ends = Math.sqrt((levels[0]! ** 2 + levels[2]! ** 2) / 2);
    expect(Math.abs(20 * Math.log10(levels[1]! / ends))).toBeLessThan(0.5);
  });

  it('is as strong as each hit is in the loop, as far as it is to follow', () => {
    const strengths = (follow: number) => {
      const left = heard(doubled({ blend: 1, follow }));
      const each = STARTS.slice(0, 7).map((start) => rmsOf(left, start, start + 6_000));
      return each.map((one) => one / each[0]!);
    };
    for (const [place, one] of strengths(1).entries()) expect(one).toBeCloseTo(LEVELS[place]!, 1);
    for (const one of strengths(0)) expect(one).toBeCloseTo(1, 2);
    for (const [place, one] of strengths(0.5).entries()) expect(one).toBeCloseTo((1 + LEVELS[place]!) / 2, 1);
    // Measured before any fader: a hit turned down in the part does not count as a soft one.
    const made = doubled({ blend: 1, follow: 1 });
    const owners = [{ kind: 'zone' as const, id: made.zoneIds[4]! }];
    const softer = unwrap(setValue(made.document, { owners, param: 'gainDb', change: { to: -12 } }, env));
    const left = heard({ ...made, document: softer });
    expect(rmsOf(left, STARTS[4]!, STARTS[4]! + 6_000)).toBeCloseTo(rmsOf(left, 0, 6_000), 3);
  });

  it('is heard through a bus of its own: by its level and chain, not by those of the part, and with it silent or alone', () => {
    const made = doubled({ blend: 1, follow: 0 });
    const withBus = unwrap(addBus(made.document, { name: 'under' }, env));
    const busId = Object.values(withBus.channels).find(({ kind }) => kind === 'bus')!.id;
    const led = unwrap(leadDouble(withBus, { doubleId: made.doubleId, channelId: busId }, env));
    expect(problemOfChange(withBus, led)).toBeNull();
    const left = (document: ProjectDocument) => heard({ ...made, document });
    const farthest = (a: Float32Array, b: Float32Array) =>
      a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);
    expect(farthest(left(led), left(made.document))).toBeLessThan(1e-6);
    const { channelId } = led.parts[made.partId]!;
    const setChannel = (document: ProjectDocument, id: string, param: string, to: Value) =>
      unwrap(setValue(document, { owners: [{ kind: 'channel', id }], param, change: { to } }, env));
    // The first seven are the double alone; the eighth is the part's own.
    const ratios = (document: ProjectDocument) => {
      const [now, before] = [left(document), left(made.document)];
      return [0, 77_175].map((at) => rmsOf(now, at, at + 6_000) / rmsOf(before, at, at + 6_000));
    };
    const bySix = 10 ** (-6 / 20);
    expect(ratios(setChannel(led, busId, 'gainDb', -6))[0]).toBeCloseTo(bySix, 4);
    expect(ratios(setChannel(led, busId, 'gainDb', -6))[1]).toBeCloseTo(1, 4);
    expect(ratios(setChannel(led, channelId, 'gainDb', -6))[0]).toBeCloseTo(1, 4);
    expect(ratios(setChannel(led, channelId, 'gainDb', -6))[1]).toBeCloseTo(bySix, 4);
    expect(ratios(setChannel(led, channelId, 'muted', true))).toEqual([0, 0]);
    expect(ratios(setChannel(led, channelId, 'soloed', true))[0]).toBeCloseTo(1, 4);
    const alone = ratios(setChannel(led, busId, 'soloed', true));
    expect(alone[0]).toBeCloseTo(1, 4);
    expect(alone[1]).toBe(0);
    // The bus gone, it is heard with its part.
    const gone = unwrap(removeBus(led, { channelId: busId }, env));
    expect(gone.parts[made.partId]!.doubles![0]!.channelId).toBeUndefined();
    expect(firstDifference(left(gone), left(made.document))).toBe(-1);
  });

  it('sounds under pressed keys, in any size of blocks, and is not cut off by the next hit of a part that plays one at a time', () => {
    const made = doubled({ blend: 0.5, follow: 0 });
    const laid = unwrap(
      layZone(made.document, { zoneId: made.zoneIds[0]!, keys: { low: 60, high: 60, root: 60 } }, env),
    );
    const pressed = (block: number) => {
      const renderer = new Renderer(RATE);
      renderer.setPlan(planOf({ ...made, document: laid }));
      renderer.noteOn(made.partId, 60, 1);
      const left = new Float32Array(8_192);
      const right = new Float32Array(8_192);
      for (let at = 0; at < 8_192; at += block) {
        const count = Math.min(block, 8_192 - at);
        renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
      }
      return left;
    };
    const one = pressed(441);
    for (const block of [127, 128, 4096]) expect(firstDifference(pressed(block), one)).toBe(-1);
    const alone = heard({ ...made, document: made.plain });
    expect(rmsOf(one, 0, 4_000)).not.toBeCloseTo(rmsOf(alone, 0, 4_000), 3);
  });

  it('has a blend on a dial and on a lane, and kept in treatments', () => {
    const made = doubled({ blend: 0, follow: 0 });
    const { partId, doubleId } = made;
    const target = { kind: 'double', id: doubleId } as const;
    const put = unwrap(putOnMacro(made.document, { place: 0, target, paramId: 'blend' }, env));
    const dialId = Object.keys(put.modulators).at(-1)!;
    const owners = [{ kind: 'modulator' as const, id: dialId }];
    const turned = unwrap(setValue(put, { owners, param: 'position', change: { to: 1 } }, env));
    const whole = heard(doubled({ blend: 1, follow: 0 }));
    expect(firstDifference(heard({ ...made, document: turned }), whole)).toBe(-1);
    const laned = unwrap(
      addLane(put, { overId: homeId(made.cutId), target, paramId: 'blend', points: [{ at: 0, value: 1 }] }, env),
    );
    expect(firstDifference(heard({ ...made, document: laned }), whole)).toBe(-1);
    // Gone with its double.
    const gone = unwrap(removeDouble(laned, { doubleId }, env));
    expect([Object.keys(gone.routes), Object.values(gone.modulators).map(({ kind }) => kind)]).toEqual([[], ['macro']]);

    const kept = unwrap(keepTreatment(made.document, { partId }, env));
    const louder = set(kept, doubleId, 'blend', 0.7);
    const { treatments } = kept.parts[partId]!;
    const back = unwrap(putTreatmentOn(louder, { partId, treatmentId: treatments![0]!.id }, env));
    expect(back.parts[partId]!.doubles![0]!.values.blend).toBe(0);
    expect(problemOfChange(louder, back)).toBeNull();
  });

  it('goes on while its blend is dragged, without anything compiled', () => {
    const made = doubled({ blend: 0.2 });
    const song = new LiveSong(made.document, made.assets);
    song.renderer.play();
    song.next(5_000);
    const before = song.compiler.compiledCount;
    const patch = song.edit(set(made.document, made.doubleId, 'blend', 0.9))!;
    expect(patch.values).toEqual([{ kind: 'double', id: made.doubleId, slot: 0, value: 0.9 }]);
    expect(song.compiler.compiledCount).toBe(before);
    expect(song.next(20_000).some((x) => x !== 0)).toBe(true);
  });

  it('is copied with its part, gives up hits to another, and goes with its sound', () => {
    const made = doubled();
    const { partId, zoneIds, doubleId, cutId } = made;
    const copy = unwrap(duplicatePart(made.document, { partId }, env));
    expect(problemOfChange(made.document, copy)).toBeNull();
    const other = copy.parts[copy.partOrder[1]!]!;
    expect(other.doubles![0]!.id).not.toBe(doubleId);
    expect(other.zoneOrder).toContain(other.doubles![0]!.soundId);

    const second = unwrap(
      addDouble(made.document, { partId, zoneIds: zoneIds.slice(0, 2), soundId: zoneIds[6]!, name: 'other' }, env),
    );
    expect(second.parts[partId]!.doubles!.map((one) => one.zoneIds.length)).toEqual([5, 2]);
    // Cut anew, its hits are those that cover their places.
    const cut = made.document.cuts[cutId]!;
    const slices = Object.values(cut.slices).sort((a, b) => a.startFrame - b.startFrame);
    const joined = unwrap(mergeSlices(made.document, { cutId, sliceIds: [slices[0]!.id, slices[1]!.id] }, env));
    expect(problemOfChange(made.document, joined)).toBeNull();
    expect(joined.parts[partId]!.doubles![0]!.zoneIds).toEqual([0, 2, 3, 4, 5, 6].map((place) => zoneIds[place]));
    expect(setDoubleHits(second, { doubleId, zoneIds: [zoneIds[7]!] }, env).ok).toBe(false);
    expect(removeCut(second, { cutId }, env).ok).toBe(false);
  });
});
