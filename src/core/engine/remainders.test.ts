import { describe, expect, it } from 'vitest';
import type { LoopProject } from '../../../tests/support/documents.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { energy, planOf, play, set } from '../../../tests/support/playing.ts';
import { homeOf, setZones, tempoOf } from '../../../tests/support/edits.ts';
import { burstLoop, sine } from '../../../tests/support/signals.ts';
import type { CommandResult } from '../project/commands/command.ts';
import { moveEvents, removeEvents, resizeEvents } from '../project/commands/events.ts';
import { setLoop } from '../project/commands/parts.ts';
import { copyPattern } from '../project/commands/patterns.ts';
import { orderedEvents } from '../queries/patterns.ts';
import { framesPerTick } from '../units/time.ts';

const RATE = 44100;
const RATIO = 0.41;

/** Six bursts that die away by 40 nepers (347 dB) a second, 240 ticks apart, brought from 0.18 to 0.074 s by stretching. */
const starts = [0, 8_000, 16_000, 24_000, 32_000, 40_000];
const step = Math.round(8_000 * RATIO);
const made = loopProject(burstLoop(48_000, starts, RATE, 1), starts);

function faster(): LoopProject {
  const { cutId, env } = made;
  const document = unwrap(setLoop(made.document, { cutId, loop: { beatsPerBar: 1.5 } }, env));
  const tempoBpm = (1.5 * 60 * RATE) / 48_000 / RATIO;
  return set({ ...made, document }, { follow: 'stretch' }, tempoBpm);
}

/** The same with a pattern of its own in which some steps are changed. */
function changed(change: (project: LoopProject, patternId: string, eventIds: string[]) => CommandResult): LoopProject {
  const project = faster();
  const { partId, env } = project;
  const document = unwrap(copyPattern(project.document, { partId, patternId: homeOf(project.document, partId) }, env));
  const patternId = document.parts[partId]!.activePatternId;
  const eventIds = orderedEvents(document.patterns[patternId]!.events).map(({ id }) => id);
  return { ...project, document: unwrap(change({ ...project, document }, patternId, eventIds)) };
}

const decibels = (ratio: number) => 10 * Math.log10(ratio + 1e-20);
/** What is left of a burst's energy after some frames. */
const left = (frames: number) => Math.exp((-2 * 40 * frames) / RATE);

describe('the remainder of a slice that is stretched shorter', () => {
  it('sounds on under the next slice', () => {
    const project = faster();
    const out = play(planOf(project), 6 * step);
    // The same bursts begun at the new places: nothing is cut off in it.
    const places = starts.map((_, index) => Math.round(index * 240 * framesPerTick(tempoOf(project.document), RATE)));
    const ideal = burstLoop(6 * step, places, RATE, 1).channels[0]!;
    const difference = out.map((value, i) => value - ideal[i]!);
    // A slice that begins loud is faded in within 31 frames.
    const sum = (signal: Float32Array) =>
      places.slice(1, 5).reduce((all, at) => all + energy(signal, at + 40, at + 800), 0);
    const missing = decibels(sum(difference) / sum(ideal));
    // All that rings there lies this far under what begins.
    const cut = decibels(left(step));
    expect(missing).toBeLessThan(cut - 8);
  });

  it('sounds where the next slice is taken away, as loud as it would', () => {
    const project = changed(({ document, env }, patternId, eventIds) =>
      removeEvents(document, { patternId, eventIds: [eventIds[1]!] }, env),
    );
    const out = play(planOf(project), 2 * step);
    const louder = decibels(energy(out, step + 300, step + 1_100) / (energy(out, 0, 800) * left(step + 300)));
    expect(Math.abs(louder)).toBeLessThan(3);
  });

  it('is cut off with an event that was made shorter', () => {
    const project = changed(({ document, env }, patternId, eventIds) =>
      resizeEvents(document, { patternId, eventIds: [eventIds[0]!], lengthTicks: 120 }, env),
    );
    const out = play(planOf(project), step - 10);
    expect(energy(out, step / 2 - 300, step / 2 - 10)).toBeGreaterThan(0);
    expect(energy(out, step / 2 + 150, step - 10)).toBe(0);
  });

  it('is not heard when another slice comes early, one at a time', () => {
    const early = changed(({ document, env }, patternId, eventIds) => {
      const moved = unwrap(moveEvents(document, { patternId, eventIds: [eventIds[1]!], byTicks: -120 }, env));
      return removeEvents(moved, { patternId, eventIds: [eventIds[2]!] }, env);
    });
    const both = set(early, { oneAtATime: false });
    const [alone, together] = [early, both].map((project) => play(planOf(project), 2 * step));
    const second = Math.round(step / 2);
    const without = changed(({ document, env }, patternId, eventIds) => {
      const moved = unwrap(moveEvents(document, { patternId, eventIds: [eventIds[1]!], byTicks: -120 }, env));
      return removeEvents(moved, { patternId, eventIds: [eventIds[0]!, eventIds[2]!] }, env);
    });
    const only = play(planOf(without), 2 * step);
    // After the short fade the second slice is alone; two at a time, it is not.
    expect(
      energy(
        alone!.map((value, i) => value - only[i]!),
        second + 150,
        2 * step - 10,
      ),
    ).toBe(0);
    expect(
      energy(
        together!.map((value, i) => value - only[i]!),
        second + 150,
        2 * step - 10,
      ),
    ).toBeGreaterThan(0);
  });
});

describe('both ring', () => {
  it('at any sample rate of the source', () => {
    for (const sampleRate of [22_050, 44_100, 96_000]) {
      const tone = { sampleRate, channels: [sine(332, 2, sampleRate)] };
      const project = loopProject(tone, [0, sampleRate]);
      const fast = tempoOf(project.document) * 2;
      const level = (oneAtATime: boolean) =>
        Math.max(...play(planOf(set(project, { oneAtATime }, fast)), RATE).subarray(0.6 * RATE, 0.9 * RATE));
      expect(level(false)).toBeGreaterThan(1.2 * level(true));
    }
  });
});

describe('a tail behind the loop', () => {
  /** A bar of four steps whose last one dies away over another half of a bar. */
  function withTail(runsOn: boolean, ringOver: boolean) {
    const frames = 2 * RATE;
    const tail = sine(500, 1.5).map((x, i) => x * Math.exp((-2 * i) / RATE));
    const samples = new Float32Array(frames + RATE);
    samples.set(tail, frames - RATE / 2);
    const project = loopProject({ sampleRate: RATE, channels: [samples] }, [0, RATE / 2, RATE, frames - RATE / 2]);
    const { cutId, partId, env } = project;
    const loop = { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: 4 };
    const read = unwrap(setLoop(project.document, { cutId, loop }, env));
    const sliceIds = Object.keys(read.cuts[cutId]!.slices);
    const document = unwrap(setZones(read, { partId, sliceIds, sound: { runsOn } }));
    return set({ ...project, document }, { oneAtATime: false, ringOver }, 120);
  }
  const nextRound = (project: LoopProject) => {
    const out = play(planOf(project), 3 * RATE);
    return decibels(energy(out, 2 * RATE + 2_000, 2 * RATE + 12_000) / 10_000);
  };

  it('rings into the next round when it is to play to the end, and tails ring over', () => {
    expect(nextRound(withTail(true, true))).toBeGreaterThan(-25);
    expect(nextRound(withTail(false, true))).toBeLessThan(-100);
    expect(nextRound(withTail(true, false))).toBeLessThan(-100);
  });
});
