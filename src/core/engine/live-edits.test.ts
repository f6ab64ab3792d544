/** What sounds while it is edited: it goes on, ends when it should, and never clicks. */
import { joined } from '../dsp/joined.ts';
import { describe, expect, it } from 'vitest';
import { FOUND_HIT, countingEnv, loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { setPart, setSong, setZones, slicesOfPart } from '../../../tests/support/edits.ts';
import { energy, LiveSong, pitchHz, set } from '../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import { addMarker, removeSlices } from '../project/commands/cut.ts';
import { copyPattern, choosePattern } from '../project/commands/patterns.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { removePart } from '../project/commands/parts.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { MAX_VOICES } from './voice/pool.ts';

const RATE = 44100;
const counting = countingEnv();
/** Ids that no project of these tests has. */
const env = { ...counting, newId: () => `new-${counting.newId()}` };

/** A tone of so many seconds, cut at the given frames. */
function tone(hz: number, seconds: number, starts: readonly number[] = [0], amplitude = 1): LoopProject {
  const channel = sine(hz, seconds).map((value) => value * amplitude);
  return loopProject({ sampleRate: RATE, channels: [channel] }, starts, seconds / 2);
}

function live({ document, assets }: LoopProject): LiveSong {
  return new LiveSong(document, assets);
}

function zonesOf({ document, partId }: LoopProject): readonly string[] {
  return document.parts[partId]!.zoneOrder;
}

/** The largest step from one sample to the next. */
function steepest(samples: Float32Array): number {
  let most = 0;
  for (let i = 1; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
  return most;
}
/** Of a sine of amplitude 1. */
const slope = (hz: number) => (2 * Math.PI * hz) / RATE;

describe('a sounding slice', () => {
  it('keeps its pitch when a marker comes before it and another slice is tuned', () => {
    const made = tone(400, 4, [0, 44_100]);
    const song = live(made);
    song.renderer.playZone(zonesOf(made)[1]!, 1);
    song.next(10_000);
    const cutId = made.cutId;
    const cut = unwrap(addMarker(made.document, { cutId, slice: { ...FOUND_HIT, startFrame: 20_000 } }, env));
    song.edit(cut);
    song.next(2_000);
    const partId = made.partId;
    const [, inserted] = slicesOfPart(cut, cut.parts[partId]!);
    for (const sliceIds of [[inserted!.slice.id], [slicesOfPart(cut, cut.parts[partId]!)[0]!.slice.id]]) {
      song.edit(unwrap(setZones(song.document, { partId, sliceIds, sound: { tuneCents: 1200 } })));
      expect(pitchHz(song.next(20_000), 0, 20_000)).toBeCloseTo(400, -1);
    }
  });

  it('goes on being tuned, alone, when it is tuned itself', () => {
    const made = tone(400, 4, [0, 44_100]);
    const song = live(made);
    song.renderer.playZone(zonesOf(made)[1]!, 1);
    song.next(5_000);
    const sliceIds = [slicesOfPart(made.document, made.document.parts[made.partId]!)[1]!.slice.id];
    song.edit(unwrap(setZones(made.document, { partId: made.partId, sliceIds, sound: { tuneCents: 700 } })));
    expect(pitchHz(song.next(20_000), 1_000, 20_000)).toBeCloseTo(400 * 2 ** (7 / 12), -1);
  });

  it('that has decayed to nothing stays so when a stretched part goes over to another tempo', () => {
    const made = set(tone(400, 4), { follow: 'stretch' }, 100);
    const sliceIds = Object.keys(made.document.cuts[made.cutId]!.slices);
    const sound = { decayMs: 100, sustain: 0 };
    const document = unwrap(setZones(made.document, { partId: made.partId, sliceIds, sound }));
    const song = live({ ...made, document });
    song.renderer.play();
    const began = song.next(20_000);
    expect(energy(began, 0, 4_000)).toBeGreaterThan(100);
    expect(energy(began, 10_000, 20_000)).toBe(0);
    song.edit(unwrap(setSong(document, { tempoBpm: 80 })));
    expect(energy(song.next(20_000), 0, 20_000)).toBe(0);
  });

  it('without a decay is at its sustain from the first frame on', () => {
    const made = tone(400, 4);
    const sliceIds = Object.keys(made.document.cuts[made.cutId]!.slices);
    const sound = { decayMs: 0, sustain: 0.2 };
    const song = live({
      ...made,
      document: unwrap(setZones(made.document, { partId: made.partId, sliceIds, sound })),
    });
    song.renderer.playZone(zonesOf(made)[0]!, 1);
    const peak = song.next(4_000).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    expect(peak).toBeCloseTo(0.2, 2);
  });

  it('by speed lasts as long as its place when the tempo is halved in its middle', () => {
    const made = set(tone(400, 4), { follow: 'speed', oneAtATime: false });
    const song = live(made);
    song.renderer.play();
    song.next(RATE);
    song.edit(unwrap(setSong(made.document, { tempoBpm: 60 })));
    // Three of four seconds are left of the source, at half the speed.
    const out = song.next(6 * RATE);
    for (let at = 0; at + 2_205 < out.length; at += 2_205) {
      expect([at, energy(out, at, at + 2_205) > 100]).toEqual([at, true]);
    }
    expect(pitchHz(out, RATE, 5 * RATE)).toBeCloseTo(200, -1);
  });

  it('by speed ends with its place when the tempo is doubled', () => {
    const made = set(tone(400, 4), { follow: 'speed' });
    const copied = unwrap(copyPattern(made.document, { partId: made.partId, patternId: made.home }, env));
    const song = live({ ...made, document: copied });
    song.renderer.play(0, 2 * 3840);
    song.next(RATE);
    song.edit(unwrap(setSong(copied, { tempoBpm: 240 })));
    const out = song.next(3 * RATE);
    expect(energy(out, 1.4 * RATE, 1.5 * RATE - 300)).toBeGreaterThan(100);
    expect(energy(out, 1.5 * RATE + 300, 3 * RATE)).toBe(0);
  });

  it('played by a key that is up already rings on when its pattern comes round and when the song stops', () => {
    const made = set(tone(400, 4, [0], 0.5), { oneAtATime: false, ringOver: false });
    const song = live(made);
    song.renderer.play();
    song.next(3 * RATE);
    song.renderer.noteOn(made.partId, 48, 1, 7);
    song.next(1_000);
    song.renderer.noteOff(7);
    song.next(RATE + 5_000);
    const both = song.sounding.length;
    song.renderer.stop();
    song.next(2_000);
    expect([both, song.sounding.length]).toEqual([2, 1]);
    expect(energy(song.next(RATE), 0, RATE)).toBeGreaterThan(1_000);
  });
});

describe('a part at its own tempo', () => {
  it('goes over to another pattern at its own next bar line', () => {
    const made = set(tone(400, 4, [0, 44_100, 88_200]), { follow: 'none' }, 30);
    const { partId } = made;
    const copied = unwrap(copyPattern(made.document, { partId, patternId: made.home }, env));
    const patternId = copied.parts[partId]!.activePatternId;
    const document = unwrap(choosePattern(copied, { partId, patternId: made.home }, env));
    const song = live({ ...made, document });
    song.renderer.play();
    song.next(2.5 * RATE);
    song.edit(unwrap(choosePattern(document, { partId, patternId }, env)));
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home, waiting: patternId }]);
    // A bar of its own lasts 2 seconds (one of the song's 8): the next begins at 4.
    song.next(1.5 * RATE - 500);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: made.home }]);
    song.next(1_000);
    expect(song.renderer.takePartStatus()).toMatchObject([{ playing: patternId, waiting: null }]);
  });
});

describe('slices that touch', () => {
  it.each([118.123, 97.531, 133.777, 120])(
    'have no hole at their joins at %f bpm, in any of ten rounds',
    (tempoBpm) => {
      const frames = Math.round((4 * 60 * RATE) / tempoBpm);
      const channel = new Float32Array(frames).fill(0.5);
      const starts = Array.from({ length: 7 }, (_, place) => Math.round((place * frames) / 7));
      const made = loopProject({ sampleRate: RATE, channels: [channel] }, starts);
      const song = live({ ...made, document: unwrap(setSong(made.document, { tempoBpm })) });
      song.renderer.play();
      const out = song.next(10 * frames);
      expect(out.subarray(100).every((sample) => sample === 0.5)).toBe(true);
    },
  );
});

describe('nothing is cut off without a fade:', () => {
  const many = (project: LoopProject) => set(project, { oneAtATime: false });

  it(`voice ${MAX_VOICES + 1}`, () => {
    const made = many(tone(100, 4, [0], 0.01));
    const song = live(made);
    const pieces: Float32Array[] = [];
    for (let voice = 0; voice <= MAX_VOICES + 6; voice++) {
      song.renderer.playZone(zonesOf(made)[0]!, 1);
      pieces.push(song.next(100));
    }
    expect(song.sounding).toHaveLength(MAX_VOICES);
    pieces.push(song.next(1_000));
    // All voices together at their steepest, and a fade of 3 ms.
    expect(steepest(joined(pieces))).toBeLessThan(0.01 * (MAX_VOICES + 7) * slope(100) + 0.01 / 100);
    const cut = joined(pieces).subarray(MAX_VOICES * 100 - 200);
    expect(cut.length).toBeGreaterThan(1_000);
  });

  it('a part that is removed while it sounds, whose channel stays until it has faded', () => {
    const made = tone(100, 4);
    const twice = unwrap(duplicatePart(made.document, { partId: made.partId }, env));
    const song = live({ ...made, document: twice });
    song.renderer.playZone(twice.parts[twice.partOrder[1]!]!.zoneOrder[0]!, 1);
    const before = song.next(4_520);
    song.edit(unwrap(removePart(twice, { partId: twice.partOrder[1]! }, env)));
    const after = song.next(1_000);
    expect(Math.abs(before.at(-1)!)).toBeGreaterThan(0.3);
    expect(steepest(joined([before, after]))).toBeLessThan(slope(100) + 1 / 100);
    expect(energy(after, 500, 1_000)).toBe(0);
    expect(song.sounding).toEqual([]);
  });

  it('a slice that is removed while it sounds', () => {
    const made = tone(100, 4, [0, 88_200]);
    const song = live(made);
    song.renderer.playZone(zonesOf(made)[1]!, 1);
    const before = song.next(4_520);
    const sliceIds = [slicesOfPart(made.document, made.document.parts[made.partId]!)[1]!.slice.id];
    song.edit(unwrap(removeSlices(made.document, { cutId: made.cutId, sliceIds }, env)));
    const after = song.next(1_000);
    expect(Math.abs(before.at(-1)!)).toBeGreaterThan(0.3);
    expect(steepest(joined([before, after]))).toBeLessThan(slope(100) + 1 / 100);
    expect(energy(after, 500, 1_000)).toBe(0);
  });

  it('a preview that another one replaces', () => {
    const made = tone(100, 4);
    const song = live(made);
    const source = { id: 'p', sampleRate: RATE, channels: [sine(100, 2)] };
    song.renderer.preview(source, 0, Infinity, false);
    const before = song.next(4_520);
    song.renderer.preview(source, 0, Infinity, false);
    const after = song.next(2_000);
    expect(Math.abs(before.at(-1)!)).toBeGreaterThan(0.3);
    expect(steepest(joined([before, after]))).toBeLessThan(2 * slope(100) + 1 / 100);
  });

  it('the song when it stops', () => {
    const song = live(tone(100, 4));
    song.renderer.play();
    const before = song.next(4_520);
    song.renderer.stop();
    const after = song.next(1_000);
    expect(Math.abs(before.at(-1)!)).toBeGreaterThan(0.3);
    expect(steepest(joined([before, after]))).toBeLessThan(slope(100) + 1 / 100);
    expect(energy(after, 500, 1_000)).toBe(0);
  });
});

describe('what sounds', () => {
  it('is told with the latest last, whichever voices are used again', () => {
    const made = set(tone(100, 4, [0, 1_000, 88_200, 132_300]), { oneAtATime: false });
    const song = live(made);
    const [short, , long, longer] = zonesOf(made) as [string, string, string, string];
    song.renderer.playZone(short, 1);
    song.renderer.playZone(long, 1);
    song.next(2_000);
    // The first voice is free again: the next slice sounds in it.
    song.renderer.playZone(longer, 1);
    song.next(100);
    expect(song.sounding.map(([, zoneId]) => zoneId)).toEqual([long, longer]);
    song.renderer.playZone(short, 1);
    song.renderer.playZone(long, 1);
    song.next(100);
    expect(song.sounding.map(([, zoneId]) => zoneId)).toEqual([long, longer, short, long]);
  });
});

describe('edits that the song does not hear', () => {
  it('leave it sample for sample as it is', () => {
    const made = tone(400, 4, [0, 22_050, 44_100]);
    const rename = (document: ProjectDocument): ProjectDocument => ({ ...document, name: 'another' });
    const undisturbed = live(made);
    const edited = live(made);
    undisturbed.renderer.play();
    edited.renderer.play();
    const expected = undisturbed.next(3 * RATE);
    const pieces: Float32Array[] = [];
    for (let step = 0; step < 30; step++) {
      pieces.push(edited.next(4_410));
      const gainDb = step % 2 === 0 ? 3 : 0;
      // A silenced copy comes and goes, and its level is turned.
      const copy = unwrap(duplicatePart(made.document, { partId: made.partId }, made.env));
      const partId = copy.partOrder[1]!;
      edited.edit(unwrap(setPart(rename(copy), { partId, settings: { muted: true, gainDb } })));
    }
    expect(firstDifference(joined(pieces), expected)).toBe(-1);
  });
});
