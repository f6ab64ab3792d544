import { describe, expect, it } from 'vitest';
import type { AudioData } from '#core/dsp/audio.ts';
import { choosePattern, copyPattern } from '#core/project/commands/patterns.ts';
import { loopTempoBpm } from '#core/units/time.ts';
import { loopProject, unwrap, type LoopProject } from '../../../tests/support/documents.ts';
import { burstLoop, eightStepLoop, firstDifference } from '../../../tests/support/signals.ts';
import { bounce } from './bounce.ts';
import { compilePlan } from './plan/compile.ts';
import { Renderer } from './renderer.ts';
import type { RenderPlan } from './plan/fragments.ts';
import { setPart, setZones, setEvents, setSong, slicesOfPart, tempoOf } from '../../../tests/support/edits.ts';

const RATE = 44100;
const BAR_TICKS = 3840;

function atTempo(project: LoopProject, tempoBpm: number): LoopProject {
  return { ...project, document: unwrap(setSong(project.document, { tempoBpm })) };
}

function planOf({ document, assets }: LoopProject): RenderPlan {
  return compilePlan(document, RATE, { assets: assets });
}

async function render(plan: RenderPlan, bars: number, blockFrames = 128): Promise<AudioData> {
  return bounce(plan, { lengthTicks: bars * BAR_TICKS, blockFrames });
}

/** Frames where sound begins after at least `quietFrames` of near silence. */
function entries(samples: Float32Array, quietFrames = 400): number[] {
  const found: number[] = [];
  let quiet = quietFrames;
  samples.forEach((sample, index) => {
    if (Math.abs(sample) > 1e-4) {
      if (quiet >= quietFrames) found.push(index);
      quiet = 0;
    } else quiet++;
  });
  return found;
}

/** A loop of single-sample spikes: where they sound is where slices start. */
function spikeLoop(frames: number, starts: readonly number[]): AudioData {
  const channel = new Float32Array(frames);
  for (const start of starts) channel[start] = 0.8;
  return { sampleRate: RATE, channels: [channel] };
}

describe('home pattern', () => {
  it('gives the loop back sample for sample at its own tempo, round after round', async () => {
    const { audio, starts } = eightStepLoop();
    const project = loopProject(audio, starts);
    expect(tempoOf(project.document)).toBe(120);
    const out = await render(planOf(project), 3);
    for (let round = 0; round < 3; round++) {
      const part = out.channels[0]!.subarray(round * 88200, (round + 1) * 88200);
      expect(firstDifference(part, audio.channels[0]!)).toBe(-1);
    }
  });

  it('does so for a loop whose tempo is no whole number', async () => {
    const frames = 93_333;
    const starts = [0, 20_011, 46_500, 70_777];
    const project = loopProject(burstLoop(frames, starts), starts);
    const exact = loopTempoBpm(1, 4, frames, RATE);
    const out = await bounce(planOf(atTempo(project, exact)), { lengthTicks: 2 * BAR_TICKS });
    const audio = project.assets.get('source-a')!;
    const right = audio.channels[1]!;
    const heard = out.channels[1]!;
    expect(firstDifference(heard.subarray(0, frames), right)).toBe(-1);
    expect(firstDifference(heard.subarray(frames), right.subarray(0, heard.length - frames))).toBe(-1);
  });

  it.each([0.7, 1, 1.4])('starts every slice on its computed frame at %f times the tempo', async (factor) => {
    const frames = 88200;
    const starts = [0, 9_001, 22_050, 33_333, 44_100, 60_123, 77_777];
    const project = atTempo(loopProject(spikeLoop(frames, starts), starts), 120 * factor);
    const out = await render(planOf(project), 4);
    const expected: number[] = [];
    for (let round = 0; round < 4; round++) {
      for (const start of starts) expected.push(Math.round((start + round * frames) / factor));
    }
    expect(entries(out.channels[0]!, 100)).toEqual(expected);
  });
});

describe('timing', () => {
  it('does not drift over ten minutes and a thousand tempo changes', () => {
    const starts = [0, 22_050, 44_100, 66_150];
    const project = loopProject(spikeLoop(88_200, starts), starts);
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf(project));
    renderer.play();
    const left = new Float32Array(26_460);
    const right = new Float32Array(26_460);
    let ticks = 0n;
    // Exact song position in units of tick / (44100 * 60 * 10), so that the reference has no rounding at all.
    const scale = 44_100n * 60n * 10n;
    const heard: number[] = [];
    const expected: number[] = [];
    for (let change = 0; change < 1000; change++) {
      const tempoTenths = 600 + ((change * 7919) % 1400);
      renderer.setPlan(planOf(atTempo(project, tempoTenths / 10)));
      const base = renderer.frame;
      renderer.process(left, right, left.length);
      left.forEach((sample, index) => {
        // Spikes stand where slices begin, and are faded in.
        if (sample > 0.02) heard.push(base + index);
      });
      const perFrame = BigInt(tempoTenths) * 960n;
      const end = ticks + perFrame * BigInt(left.length);
      for (let beat = ticks / (960n * scale); beat * 960n * scale < end; beat++) {
        const at = beat * 960n * scale - ticks;
        const frame = Math.round(Number(at) / Number(perFrame));
        if (at >= 0n && frame < left.length) expected.push(base + frame);
        else if (frame === left.length) expected.push(base + frame);
      }
      ticks = end;
    }
    expect(renderer.frame).toBe(600 * RATE);
    expect(new Set(heard)).toEqual(new Set(expected));
  });

  it('gives the same samples at any block size', async () => {
    const { audio, starts } = eightStepLoop(90_000);
    const project = atTempo(loopProject(audio, starts), 133.7);
    const tuned = slicesOfPart(project.document, project.document.parts[project.partId]!).map((at) => at.slice.id);
    const document = unwrap(
      setZones(
        unwrap(setSong(project.document, { clickOn: true })),
        { partId: project.partId, sliceIds: tuned.slice(2, 5), sound: { tuneCents: 350, pan: -0.5, attackMs: 4 } },
        project.env,
      ),
    );
    const plan = planOf({ ...project, document });
    const reference = await render(plan, 2, 128);
    for (const blockFrames of [1, 127, 4096]) {
      const other = await render(plan, 2, blockFrames);
      expect(firstDifference(other.channels[0]!, reference.channels[0]!)).toBe(-1);
      expect(firstDifference(other.channels[1]!, reference.channels[1]!)).toBe(-1);
    }
  });

  it('changes to another pattern at the next bar line', () => {
    const { audio, starts } = eightStepLoop();
    const project = loopProject(audio, starts);
    const copied = unwrap(
      copyPattern(project.document, { partId: project.partId, patternId: project.home }, project.env),
    );
    const patternId = copied.parts[project.partId]!.activePatternId;
    const home = unwrap(choosePattern(copied, { partId: project.partId, patternId: project.home }, project.env));
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf({ ...project, document: home }));
    renderer.play();
    const block = new Float32Array(1000);
    renderer.process(block, block, 1000);
    renderer.setPlan(planOf({ ...project, document: copied }));
    expect(renderer.takePartStatus()).toMatchObject([{ playing: project.home, waiting: patternId }]);
    while (renderer.frame < 88_000) renderer.process(block, block, 1000);
    expect(renderer.takePartStatus()[0]!.playing).toBe(project.home);
    renderer.process(block, block, 1000);
    expect(renderer.takePartStatus()).toMatchObject([{ playing: patternId, waiting: null }]);
  });
});

describe('slices', () => {
  it('end with a fade and never reach into the next hit', async () => {
    const { audio, starts } = eightStepLoop();
    const flat: AudioData = { sampleRate: RATE, channels: [new Float32Array(88_200).fill(0.5)] };
    const project = atTempo(loopProject(flat, starts), 60);
    const out = (await render(planOf(project), 1)).channels[0]!;
    expect(audio.channels[0]!.length).toBe(88_200);
    const step = 22_050;
    const length = 11_025;
    for (let slice = 0; slice < 8; slice++) {
      expect(out[slice * step + length - 1]).toBe(0);
      expect(out[slice * step + length + 5]).toBe(0);
      expect(out[slice * step + length - 200]).toBe(0.5);
    }
    let steepest = 0;
    for (let i = 1; i < 8 * step; i++)
      if (out[i]! !== 0 || i % step > 40) steepest = Math.max(steepest, Math.abs(out[i]! - out[i - 1]!));
    expect(steepest).toBeLessThan(0.5 / 25);
  });

  it('cut each other off with a fade of the set length when one at a time', () => {
    const flat: AudioData = { sampleRate: RATE, channels: [new Float32Array(88_200).fill(0.5)] };
    const project = loopProject(flat, [0, 44_100]);
    const document = unwrap(
      setPart(project.document, { partId: project.partId, settings: { stopFadeMs: 5 } }, project.env),
    );
    const renderer = new Renderer(RATE);
    renderer.setPlan(planOf({ ...project, document }));
    const out = new Float32Array(1000);
    const other = new Float32Array(1000);
    renderer.playZone(document.parts[project.partId]!.zoneOrder[0]!, 1);
    renderer.process(out, other, 1000);
    renderer.playZone(document.parts[project.partId]!.zoneOrder[1]!, 1);
    renderer.process(out, other, 1000);
    const fade = Math.round(0.005 * RATE);
    expect(out[fade >> 1]).toBeGreaterThan(0.6);
    expect(out[fade + 1]).toBeCloseTo(0.5, 6);
  });

  it('play whole or while held', () => {
    const flat: AudioData = { sampleRate: RATE, channels: [new Float32Array(88_200).fill(0.5)] };
    const project = loopProject(flat, [0]);
    const sliceIds = Object.keys(project.document.cuts[project.cutId]!.slices);
    const level = (answer: 'one-shot' | 'gate') => {
      const document = unwrap(
        setZones(project.document, { partId: project.partId, sliceIds, sound: { answer } }, project.env),
      );
      const renderer = new Renderer(RATE);
      renderer.setPlan(planOf({ ...project, document }));
      const out = new Float32Array(2000);
      renderer.noteOn(project.partId, 48, 1);
      renderer.process(out, new Float32Array(2000), 2000);
      renderer.noteOff(48);
      renderer.process(out, new Float32Array(2000), 2000);
      return out[1999]!;
    };
    expect(level('one-shot')).toBe(0.5);
    expect(level('gate')).toBe(0);
  });

  it('repeat within their event and play backwards', async () => {
    const frames = 88_200;
    const starts = [0, 44_100];
    const project = loopProject(spikeLoop(frames, [100, 44_200]), starts);
    const copied = unwrap(
      copyPattern(project.document, { partId: project.partId, patternId: project.home }, project.env),
    );
    const patternId = copied.parts[project.partId]!.activePatternId;
    const [first, second] = Object.keys(copied.patterns[patternId]!.events);
    let document = unwrap(setEvents(copied, { patternId, eventIds: [first!], settings: { repeats: 4 } }, project.env));
    document = unwrap(
      setEvents(document, { patternId, eventIds: [second!], settings: { reverse: true } }, project.env),
    );
    const out = await render(planOf({ ...project, document }), 1);
    const quarter = 44_100 / 4;
    const backwards = 44_100 + (88_200 - 1 - 44_200);
    expect(entries(out.channels[0]!, 100)).toEqual([
      100,
      quarter + 100,
      2 * quarter + 100,
      3 * quarter + 100,
      backwards,
    ]);
  });

  it('sound an octave up at twice the speed', async () => {
    const frames = 88_200;
    const tone = Float32Array.from({ length: frames }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 441 * i) / RATE));
    const project = loopProject({ sampleRate: RATE, channels: [tone] }, [0]);
    const sliceIds = Object.keys(project.document.cuts[project.cutId]!.slices);
    const sound = { tuneCents: 1200 };
    const document = unwrap(setZones(project.document, { partId: project.partId, sliceIds, sound }, project.env));
    const out = (await render(planOf({ ...project, document }), 1)).channels[0]!;
    for (let i = 1000; i < 40_000; i += 997) {
      expect(out[i]).toBeCloseTo(0.5 * Math.sin((2 * Math.PI * 882 * i) / RATE), 3);
    }
    expect(out[44_200]).toBe(0);
  });
});

describe('click', () => {
  it('falls on every beat, the first of a bar higher', async () => {
    const project = loopProject(spikeLoop(88_200, []), [0]);
    const document = unwrap(setSong(project.document, { clickOn: true, clickGainDb: 0 }));
    const out = (await render(planOf({ ...project, document }), 1)).channels[0]!;
    const starts = entries(out);
    expect(starts.map((frame) => Math.round(frame / 22_050) * 22_050)).toEqual([0, 22_050, 44_100, 66_150]);
    expect(starts.every((frame) => frame % 22_050 <= 2)).toBe(true);
    const crossings = (from: number) => {
      let count = 0;
      for (let i = from; i < from + 800; i++) if (out[i]! < 0 !== out[i + 1]! < 0) count++;
      return count;
    };
    expect(crossings(0)).toBeGreaterThan(crossings(22_050) * 1.3);
  });

  it('counts the eighths of 7/8, and changes patterns at its bar lines', async () => {
    const project = loopProject(spikeLoop(88_200, []), [0]);
    const clicked = unwrap(setSong(project.document, { clickOn: true, clickGainDb: 0 }));
    const document = unwrap(setSong(clicked, { beatsPerBar: 3.5 }));
    const out = (await render(planOf({ ...project, document }), 1)).channels[0]!;
    // 11,025 frames an eighth at 120.
    expect(entries(out).map((frame) => Math.round(frame / 11_025))).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    const crossings = (eighth: number) => {
      const from = eighth * 11_025;
      return out
        .subarray(from, from + 800)
        .reduce((sum, x, i, all) => sum + (i > 0 && x < 0 !== all[i - 1]! < 0 ? 1 : 0), 0);
    };
    // The second bar begins with the eighth eighth.
    expect([1, 2, 3, 4, 5, 6].every((eighth) => crossings(eighth) === crossings(1))).toBe(true);
    expect(crossings(7)).toBe(crossings(0));
    expect(crossings(0)).toBeGreaterThan(crossings(1));
  });
});
