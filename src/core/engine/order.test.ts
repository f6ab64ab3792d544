/** The running order as it is played: what, when, in which tempo, from anywhere, round and round. */
import { describe, expect, it } from 'vitest';
import { countingEnv, loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { entries, planOf, set } from '../../../tests/support/playing.ts';
import { firstDifference, sine } from '../../../tests/support/signals.ts';
import type { ProjectDocument } from '../document/schema.ts';
import { orderLayout } from '../order/layout.ts';
import type { SectionValues } from '../params/section-rows.ts';
import { copyPattern } from '../project/commands/patterns.ts';
import { changePlacing, placePattern } from '../project/commands/placings.ts';
import { addSection, setSectionValue } from '../project/commands/sections.ts';
import { duplicatePart } from '../project/commands/copy-part.ts';
import { setValue } from '../project/commands/values.ts';
import { bounce, bouncedFrames } from './bounce.ts';
import { compilePlan } from './plan/compile.ts';
import { renderAll } from './plan/render-all.ts';
import { Renderer } from './renderer.ts';
import { SONG } from './song-state.ts';
import { TempoMap } from '../order/tempo-map.ts';

const RATE = 44100;
const BAR = 3840;
const counting = countingEnv();
const env = { ...counting, newId: () => `new-${counting.newId()}` };

/** One click of a few frames at the start of each of `count` slices, in a bar of 120 beats a minute. */
function clicks(count: number, sampleRate = RATE): LoopProject {
  const frames = 2 * sampleRate;
  const channel = new Float32Array(frames);
  const starts = Array.from({ length: count }, (_, step) => Math.round((step * frames) / count));
  for (const at of starts) channel.fill(1, at, at + 40);
  const made = loopProject({ sampleRate, channels: [channel] }, starts, 1);
  return set(made, { follow: 'slices' } as never, 120);
}

type Change = (document: ProjectDocument) => ProjectDocument;
const value =
  (param: keyof SectionValues, to: number | string, place = 0): Change =>
  (document) =>
    unwrap(setSectionValue(document, { sectionId: document.sectionOrder.at(place)!, param, change: { to } }, env));
const section: Change = (document) => unwrap(addSection(document, { withPlaying: true }, env));
const silentSection: Change = (document) => unwrap(addSection(document, { withPlaying: false }, env));
const made = (project: LoopProject, ...changes: Change[]): LoopProject => ({
  ...project,
  document: changes.reduce((document, change) => change(document), project.document),
});

async function played(project: LoopProject, fromTicks = 0, blockFrames = 441) {
  const { lengthTicks } = orderLayout(project.document);
  const options = { fromTicks, lengthTicks: lengthTicks - fromTicks, followsOrder: true, blockFrames };
  return (await bounce(planOf(project), options)).channels[0]!;
}

/** The same, worked out by small steps (1,000 a tick's worth of way) and not by the formula. */
function framesBySteps(from: number, to: number, overTicks: number, untilTicks: number): number {
  const steps = 200_000;
  let frames = 0;
  for (let step = 0; step < steps; step++) {
    const ticks = ((step + 0.5) / steps) * untilTicks;
    const bpm = from + ((to - from) * ticks) / overTicks;
    frames += (((untilTicks / steps) * 60) / bpm / 960) * RATE;
  }
  return frames;
}

describe('the tempo of a running order', () => {
  it('goes evenly from one to the other, as summed up in small steps', () => {
    const map = new TempoMap(
      [
        { startTicks: 0, fromBpm: 100, toBpm: 100 },
        { startTicks: BAR, fromBpm: 100, toBpm: 160 },
        { startTicks: 5 * BAR, fromBpm: 160, toBpm: 160 },
      ],
      RATE,
    );
    const bar = (4 * 60 * RATE) / 100;
    expect(map.framesAt(BAR)).toBeCloseTo(bar, 6);
    for (const bars of [0.5, 1, 2.25, 4]) {
      const wanted = bar + framesBySteps(100, 160, 4 * BAR, bars * BAR);
      expect(map.framesAt(BAR + bars * BAR)).toBeCloseTo(wanted, 3);
      expect(map.ticksAt(map.framesAt(BAR + bars * BAR))).toBeCloseTo(BAR + bars * BAR, 6);
    }
    expect(map.framesAt(6 * BAR) - map.framesAt(5 * BAR)).toBeCloseTo((4 * 60 * RATE) / 160, 6);
    expect(map.tempoAt(3 * BAR)).toBeCloseTo(130, 9);
  });

  it('a handbook case: from 60 to 120 within four beats takes 4 ln 2 beats at 60', () => {
    // The integral of 60 / (60 + 15 b) over four beats: 4 ln 2 seconds.
    const map = new TempoMap(
      [
        { startTicks: 0, fromBpm: 60, toBpm: 120 },
        { startTicks: BAR, fromBpm: 120, toBpm: 120 },
      ],
      RATE,
    );
    expect(map.framesAt(BAR) / RATE).toBeCloseTo(4 * Math.LN2, 9);
  });

  it('steps, ways and metres: every hit of half an hour is on its frame', async () => {
    // Bars of 4, 3 and 3.5 quarters, each a single click of a slice of a quarter of a bar. At a low rate it is soon rendered.
    const rate = 8_000;
    const wanted: number[] = [];
    let project = made(clicks(4, rate), section, value('repeats', 99), section, value('tempoFrom', 'own', -1));
    project = made(
      project,
      value('tempoBpm', 171.3, -1),
      value('repeats', 99, -1),
      value('arriveBars', 50, -1),
      section,
      value('tempoFrom', 'own', -1),
      value('tempoBpm', 93.7, -1),
      value('metreFrom', 'own', -1),
      value('beatsPerBar', 3, -1),
      value('repeats', 99, -1),
      section,
      value('tempoFrom', 'own', -1),
      value('tempoBpm', 41, -1),
      value('arriveBars', 99, -1),
      value('repeats', 99, -1),
    );
    for (const [tempoBpm, beatsPerBar] of [
      [50, 3.5],
      [41.5, 4],
    ] as const) {
      project = made(
        project,
        section,
        value('tempoFrom', 'own', -1),
        value('tempoBpm', tempoBpm, -1),
        value('metreFrom', 'own', -1),
        value('beatsPerBar', beatsPerBar, -1),
        value('repeats', 99, -1),
      );
    }
    const { sections, lengthTicks } = orderLayout(project.document);
    let frames = 0;
    for (const { roundTicks, repeats, tempoBefore, tempoBpm, arriveTicks } of sections) {
      const at = (ticks: number) => {
        const scale = (60 * rate) / 960;
        const slope = (tempoBpm - tempoBefore) / arriveTicks;
        const onWay = Math.min(ticks, arriveTicks);
        const way = arriveTicks === 0 ? 0 : (scale / slope) * Math.log(1 + (slope * onWay) / tempoBefore);
        return frames + way + (Math.max(0, ticks - arriveTicks) * scale) / tempoBpm;
      };
      for (let round = 0; round < repeats; round++) {
        for (let beat = 0; beat * 960 < roundTicks; beat++)
          wanted.push(Math.floor(at(round * roundTicks + beat * 960) + 0.5));
      }
      frames = at(roundTicks * repeats);
    }
    expect(frames / rate).toBeGreaterThan(30 * 60);
    const { document, assets } = project;
    const plan = compilePlan(document, rate, { assets, renderings: renderAll(document, assets) });
    const heard = await bounce(plan, { lengthTicks, followsOrder: true });
    const found = entries(heard.channels[0]!, 200);
    expect(found.length).toBe(wanted.length);
    expect(found.filter((frame, index) => frame !== wanted[index])).toEqual([]);
  }, 60_000);
});

describe('what is played in a running order', () => {
  it('is the same in blocks of any size, live and bounced', async () => {
    const project = made(clicks(8), section, value('repeats', 2), section, value('tempoFrom', 'own', -1));
    const other = made(project, value('tempoBpm', 133, -1), value('arriveBars', 1, -1));
    const whole = await played(other);
    for (const block of [1, 127, 4096]) expect(firstDifference(await played(other, 0, block), whole)).toBe(-1);
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf(other));
    renderer.play(0, Infinity, { followsOrder: true, returnTicks: null });
    const [left, right] = [new Float32Array(whole.length), new Float32Array(whole.length)];
    for (let at = 0; at < whole.length; at += 128) {
      const count = Math.min(128, whole.length - at);
      renderer.process(left.subarray(at, at + count), right.subarray(at, at + count), count);
    }
    expect(firstDifference(left, whole)).toBe(-1);
  });

  it('is patterns where they are placed, rests between them, fills in the last round alone', async () => {
    const base = clicks(4);
    const copy = unwrap(copyPattern(base.document, { partId: base.partId, patternId: base.home }, env));
    const patternId = copy.parts[base.partId]!.activePatternId;
    const [first, ...others] = Object.values(copy.patterns[patternId]!.events).toSorted(
      (a, b) => a.positionTicks - b.positionTicks,
    );
    const events = { [first!.id]: first! };
    expect(others).toHaveLength(3);
    const document = { ...copy, patterns: { ...copy.patterns, [patternId]: { ...copy.patterns[patternId]!, events } } };
    let project: LoopProject = made({ ...base, document }, silentSection, value('lengthBars', 2), value('repeats', 2));
    const sectionId = project.document.sectionOrder[0]!;
    const place =
      (placed: string, startTicks: number): Change =>
      (one) =>
        unwrap(placePattern(one, { sectionId, patternId: placed, startTicks }, env));
    project = made(project, place(base.home, 0), place(patternId, 1.5 * BAR));
    const placings = project.document.sections[sectionId]!.placings;
    expect(placings.map(({ startTicks, lengthTicks }) => [startTicks, lengthTicks])).toEqual([
      [0, BAR],
      [1.5 * BAR, BAR / 2],
    ]);
    const beat = 22_050;
    const all = [0, 1, 2, 3, 6];
    const heard = (beats: readonly number[]) => beats.map((n) => n * beat);
    expect(entries(await played(project))).toEqual(heard([...all, ...all.map((n) => n + 8)]));
    const fill: Change = (one) =>
      unwrap(changePlacing(one, { sectionId, placingId: placings[1]!.id, isFill: true }, env));
    expect(entries(await played(made(project, fill)))).toEqual(heard([0, 1, 2, 3, ...all.map((n) => n + 8)]));
    const muted: Change = (one) =>
      unwrap(changePlacing(one, { sectionId, placingId: placings[0]!.id, muted: true }, env));
    expect(entries(await played(made(project, muted)))).toEqual(heard([6, 14]));
  });

  it('begins anywhere with what should be sounding there', async () => {
    const tone = sine(300, 2);
    const long = set(loopProject({ sampleRate: RATE, channels: [tone] }, [0], 1), { follow: 'slices' } as never, 120);
    const project = made(long, section, value('repeats', 3), section);
    const whole = await played(project);
    for (const ticks of [BAR, 1.25 * BAR, 3.5 * BAR]) {
      const from = Math.round((ticks / BAR) * 88_200);
      const there = await played(project, ticks);
      // What is taken up in its middle comes in within a few milliseconds.
      expect(firstDifference(there.subarray(2_000), whole.subarray(from + 2_000))).toBe(-1);
    }
  });

  it('goes back from its end in time, and goes on', () => {
    const project = made(clicks(4), section, section);
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf(project));
    renderer.play(0, 2 * BAR, { followsOrder: true, returnTicks: BAR });
    const frames = 5 * 88_200;
    const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
    for (let at = 0; at < frames; at += 441)
      renderer.process(left.subarray(at, at + 441), right.subarray(at, at + 441), 441);
    expect(entries(left)).toEqual(Array.from({ length: 20 }, (_, beat) => beat * 22_050));
    expect(renderer.positionTicks).toBeCloseTo(2 * BAR, 0);
  });

  it('follows a change of the pattern, and of its own place, while it plays', () => {
    const project = made(clicks(4), silentSection, value('lengthBars', 2));
    const sectionId = project.document.sectionOrder[0]!;
    const place =
      (startTicks: number): Change =>
      (one) =>
        unwrap(placePattern(one, { sectionId, patternId: project.home, startTicks }, env));
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf(made(project, place(BAR))));
    renderer.play(0, Infinity, { followsOrder: true, returnTicks: null });
    const [left, right] = [new Float32Array(176_400), new Float32Array(176_400)];
    renderer.process(left.subarray(0, 22_000), right.subarray(0, 22_000), 22_000);
    // Put under the playhead, its second beat comes next.
    renderer.setPlan(planOf(made(project, place(0))));
    renderer.process(left.subarray(22_000), right.subarray(22_000), 154_400);
    expect(entries(left)).toEqual([22_050, 44_100, 66_150]);
  });

  it('a part that keeps its own tempo begins anew with each placing and plays on in it', async () => {
    const base = clicks(4);
    const document = unwrap(duplicatePart(base.document, { partId: base.partId }, env));
    const own = document.partOrder[1]!;
    const cutId = document.parts[own]!.cutOrder[0]!;
    const set =
      (kind: 'cut' | 'channel', id: string, param: string, to: string | boolean): Change =>
      (one) =>
        unwrap(setValue(one, { owners: [{ kind, id }], param, change: { to } }, env));
    const project = made(
      { ...base, document },
      set('cut', cutId, 'follow', 'none'),
      set('channel', document.parts[base.partId]!.channelId, 'muted', true),
      section,
      value('tempoFrom', 'own'),
      value('tempoBpm', 60),
      section,
    );
    const heard = entries(await played(project));
    // Its bars last two seconds, the section's four: two rounds of it, then one at 120.
    expect(heard).toEqual([
      ...Array.from({ length: 8 }, (_, n) => n * 22_050),
      ...[0, 1, 2, 3].map((n) => 176_400 + n * 22_050),
    ]);
  });

  it('leaves its tempo behind when it is stopped, and when the tempo is set after its end', () => {
    const project = made(clicks(4), section, value('tempoFrom', 'own'), value('tempoBpm', 60));
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf(project));
    const [left, right] = [new Float32Array(441), new Float32Array(441)];
    const run = (blocks: number) => {
      for (let n = 0; n < blocks; n++) renderer.process(left, right, 441);
    };
    renderer.play(0, Infinity, { followsOrder: true, returnTicks: null });
    run(50);
    expect(renderer.tempoBpm).toBe(60);
    renderer.stop();
    expect(renderer.tempoBpm).toBe(120);
    renderer.play(0, Infinity, { followsOrder: true, returnTicks: null });
    run(500);
    expect([renderer.playing, renderer.tempoBpm]).toEqual([false, 60]);
    renderer.setValues([{ kind: 'song', id: '', slot: SONG.tempoBpm, value: 133 }]);
    expect(renderer.tempoBpm).toBe(133);
  });

  it('keeps stretched samples for each tempo: no gap between slices', async () => {
    const tone = sine(300, 2);
    const starts = [0, 22_050, 44_100, 66_150];
    const stretched = set(
      loopProject({ sampleRate: RATE, channels: [tone] }, starts, 1),
      { follow: 'stretch', material: 'notes' } as never,
      120,
    );
    const project = made(stretched, section, section, value('tempoFrom', 'own', -1), value('tempoBpm', 90, -1));
    const heard = await played(project);
    const slow = heard.subarray(88_200 + 2_000);
    // Every stretch of 10 ms has the level of the tone.
    for (let at = 0; at + 441 < slow.length - 2_000; at += 441) {
      const power = slow.subarray(at, at + 441).reduce((sum, x) => sum + x * x, 0) / 441;
      expect(power, `at ${at}`).toBeGreaterThan(0.25);
    }
    expect(bouncedFrames(planOf(project), { followsOrder: true, lengthTicks: 2 * BAR })).toBe(88_200 + 117_600);
  });
});
