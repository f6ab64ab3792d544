import { describe, expect, it } from 'vitest';
import { setLoop } from '#core/project/commands/parts.ts';
import { countingEnv, loopProject, unwrap } from '../../../tests/support/documents.ts';
import { energy, entries, pitchHz, planOf, play, set, shortBursts } from '../../../tests/support/playing.ts';
import { burstLoop, eightStepLoop, firstDifference, sine } from '../../../tests/support/signals.ts';
import type { AudioData } from '../dsp/audio.ts';
import { addPart } from '../project/commands/parts.ts';
import { foundSlices } from '../project/new-part.ts';
import { compilePlan } from './plan/compile.ts';
import { lengthRatio, cutTempoBpm } from '../queries/loops.ts';
import { sourceFramesPerTick } from '../queries/following.ts';
import { WantedRenderings } from './plan/wanted-renderings.ts';
import { renderAll } from './plan/render-all.ts';
import { slotsOf } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { Renderer } from './renderer.ts';
import { setSong, type PartSettings, tempoOf } from '../../../tests/support/edits.ts';

const RATE = 44100;

describe('following by slices', () => {
  it('starts every slice on its own moment at any tempo, however it is transposed', () => {
    for (const tempoBpm of [70, 93, 136, 171]) {
      for (const transposeCents of [0, -500, 700]) {
        const project = set(shortBursts(), { tail: 'leave', transposeCents }, tempoBpm);
        const out = play(planOf(project), 2 * RATE);
        const step = (RATE * 60) / tempoBpm / 2;
        const wanted = Array.from({ length: Math.floor((2 * RATE - 3_000) / step) }, (_, k) => Math.round(k * step));
        const heard = entries(out, 800);
        // A transposed burst begins between two samples of the source: its first sample above the threshold may wait.
        wanted.forEach((frame, k) => expect(Math.abs(heard[k]! - frame)).toBeLessThanOrEqual(transposeCents ? 12 : 2));
      }
    }
  });

  it('fills the gap of a slower song with the ringing tail, fades towards it, or leaves it', () => {
    // A steady tone cut in two, half a second each, is to fill a second each.
    const tone: AudioData = { sampleRate: RATE, channels: [sine(330, 1)] };
    const made = loopProject(tone, [0, RATE / 2]);
    made.document = unwrap(setSong(made.document, { tempoBpm: 240 }));
    const slow = tempoOf(made.document) / 2;
    const gap = (tail: 'ring' | 'fade' | 'leave') => {
      const out = play(planOf(set(made, { tail }, slow)), 2 * RATE);
      return [energy(out, 0.35 * RATE, 0.45 * RATE), energy(out, 0.6 * RATE, 0.9 * RATE)].map(
        (sum, index) => sum / (RATE * (index ? 0.3 : 0.1) * 0.5 * 0.5),
      );
    };
    expect(gap('leave')[1]).toBe(0);
    expect(gap('fade')[1]).toBe(0);
    expect(gap('fade')[0]).toBeLessThan(0.6 * gap('leave')[0]!);
    expect(gap('ring')[1]).toBeGreaterThan(0.9 * gap('leave')[0]!);
  });

  it('lets both ring, or the next slice cut, when the song is faster', () => {
    // Cut in two seconds of 332 Hz: the second, half a second early, is in phase with the first.
    const made = loopProject({ sampleRate: RATE, channels: [sine(332, 2)] }, [0, RATE]);
    const fast = tempoOf(made.document) * 2;
    const cut = play(planOf(set(made, { oneAtATime: true }, fast)), RATE);
    const both = play(planOf(set(made, { oneAtATime: false }, fast)), RATE);
    const level = (out: Float32Array) => Math.max(...out.subarray(0.6 * RATE, 0.9 * RATE).map(Math.abs));
    expect(level(both)).toBeGreaterThan(1.2 * level(cut));
  });
});

describe('following by stretching', () => {
  it('plays each slice as long as its place, with its pitch', () => {
    const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0]);
    for (const factor of [0.7, 1.6]) {
      const project = set(made, { follow: 'stretch' }, tempoOf(made.document) / factor);
      expect(lengthRatio(project.document, project.document.cuts[project.cutId]!)).toBeCloseTo(factor, 9);
      const frames = Math.round(2 * RATE * factor);
      const out = play(planOf(project), frames);
      // Zero crossings count the frequency; the whole place is filled to the end.
      let crossings = 0;
      for (let i = 2_000; i < frames - 2_000; i++) if (out[i - 1]! < 0 && out[i]! >= 0) crossings++;
      expect(Math.abs(crossings - ((frames - 4_000) / RATE) * 400)).toBeLessThanOrEqual(1);
      expect(energy(out, frames - 3_000, frames - 500)).toBeGreaterThan(2_500 * 0.2);
    }
  });

  it('goes over to a new tempo while a slice sounds, at the same place of it, without a click', () => {
    const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0]);
    const at = (factor: number) => planOf(set(made, { follow: 'stretch' }, tempoOf(made.document) / factor));
    const [first, second] = [at(1.2), at(1.5)];
    // Half a second at the first tempo; what is left of the bar lasts longer at the second.
    const frames = Math.round(22_050 + (2 * RATE * 1.2 - 22_050) * (1.5 / 1.2));
    const out = play(first, frames, 0, (renderer, frame) => {
      if (frame === 441 * 50) renderer.setPlan(second);
    });
    let steepest = 0;
    for (let i = 2_000; i < frames; i++) steepest = Math.max(steepest, Math.abs(out[i]! - out[i - 1]!));
    // A sine of 400 Hz moves by 0.057 of its height a frame; the two may sound together for a moment.
    expect(steepest).toBeLessThan(0.12);
    // It sounds up to the end of its new place: half the square of its height on the mean, and never less than a fifth.
    for (let at = 2_000; at + 2_000 < frames - 500; at += 2_000) {
      expect([at, energy(out, at, at + 2_000) > 2_000 * 0.2]).toEqual([at, true]);
    }
  });

  it('loses no level when a tone goes over to a new tempo', () => {
    for (const hz of [60, 196, 400]) {
      const made = loopProject({ sampleRate: RATE, channels: [sine(hz, 2)] }, [0]);
      const at = (factor: number) => planOf(set(made, { follow: 'stretch' }, tempoOf(made.document) / factor));
      const before = at(1.2);
      const period = Math.round(RATE / hz);
      for (const [turnAt, factor] of [
        [22, 1.26],
        [51, 1.31],
        [80, 1.1],
      ] as const) {
        const next = at(factor);
        const out = play(before, 441 * (turnAt + 4), 0, (renderer, frame) => {
          if (frame === 441 * turnAt) renderer.setPlan(next);
        });
        const level = (frame: number) => 10 * Math.log10(energy(out, frame, frame + period));
        for (let frame = 441 * turnAt - period; frame < 441 * (turnAt + 2); frame += 60)
          expect(Math.abs(level(frame) - level(441 * (turnAt - 3)))).toBeLessThan(0.5);
      }
    }
  });

  it('goes on without a seam when a hit that dies away is to sound at a new tempo', () => {
    const { audio, starts } = eightStepLoop();
    const made = loopProject(audio, starts);
    const at = (bpm: number) => planOf(set(made, { follow: 'stretch' }, bpm));
    for (const [bpm, newBpm] of [
      [104, 96],
      [126, 150],
      [120, 110],
    ] as const) {
      const still = play(at(bpm), 9_000);
      const plan = at(newBpm);
      const turned = play(at(bpm), 9_000, 0, (renderer, frame) => {
        if (frame === 1_323) renderer.setPlan(plan);
      });
      const off = turned.map((value, i) => value - still[i]!);
      expect(energy(off, 0, 9_000) / energy(still, 1_323, 9_000)).toBeLessThan(1e-5);
    }
  });

  it('shows where in the source it sounds, stretched or ringing', () => {
    const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0, RATE]);
    for (const [follow, beats, wanted] of [
      ['stretch', 3, 1.5],
      ['slices', 1, 0.75],
      ['slices', 1.9, 1],
    ] as const) {
      const renderer = new Renderer(RATE);
      renderer.setPlan(planOf(set(made, { follow }, 80)));
      renderer.play();
      const out = new Float32Array(Math.round(beats * 0.75 * RATE));
      renderer.process(out, new Float32Array(out.length), out.length);
      const seen: number[] = [];
      renderer.eachSounding((_part, _slice, frame) => seen.push(frame));
      expect(Math.abs(seen.at(-1)! - wanted * RATE)).toBeLessThan(200);
    }
  });

  it('passes under its events at the pace of its loop, by slices at the pace of the song', () => {
    // 88200 frames are a bar of 3840 ticks at 120 bpm: 22.97 frames a tick. At 60 bpm a tick lasts twice as long.
    const made = shortBursts();
    const pace = (settings: PartSettings, tempoBpm = 60) => {
      const { document, cutId } = set(made, settings, tempoBpm);
      return sourceFramesPerTick(document, document.cuts[cutId]!) / (88_200 / 3840);
    };
    expect(pace({ follow: 'slices' })).toBeCloseTo(2, 9);
    expect(pace({ follow: 'slices', transposeCents: 1200 })).toBeCloseTo(4, 6);
    expect(pace({ follow: 'stretch', transposeCents: 1200 })).toBeCloseTo(1, 9);
    // Five times as long is too far to stretch.
    expect(pace({ follow: 'stretch' }, 24)).toBeCloseTo(5, 9);
    expect(pace({ follow: 'speed' })).toBeCloseTo(1, 9);
    expect(pace({ follow: 'none', transposeCents: -1200 })).toBeCloseTo(0.5, 6);
  });

  it('wants nothing at its own tempo, and says where a ratio is beyond use', () => {
    const made = loopProject(eightStepLoop().audio, eightStepLoop().starts);
    const wants = (settings: PartSettings, tempoBpm: number) => {
      const { document, cutId } = set(made, settings, tempoBpm);
      return new WantedRenderings().ofCut(document, cutId).length;
    };
    expect(wants({ follow: 'stretch' }, 120)).toBe(0);
    expect(wants({ follow: 'stretch' }, 100)).toBe(8);
    expect(wants({ follow: 'stretch' }, 400)).toBe(8);
    // Beyond it the slices' tails ring.
    const far = set(made, { follow: 'stretch' }, 25);
    const specs = new WantedRenderings().ofCut(far.document, far.cutId);
    expect(specs.map(({ fill }) => fill)).toEqual(new Array(8).fill('ring'));
    expect(wants({ follow: 'slices', tail: 'ring' }, 140)).toBe(0);
    expect(wants({ follow: 'slices', tail: 'ring' }, 100)).toBe(8);
    expect(wants({ follow: 'slices', tail: 'leave' }, 100)).toBe(0);
    expect(wants({ follow: 'speed' }, 100)).toBe(0);
  });

  it('plays another rendering of the slice, in the wanted pitch, until the new one is there', () => {
    const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0]);
    const old = set(made, { follow: 'stretch' }, tempoOf(made.document) / 1.2);
    const have = renderAll(old.document, old.assets);
    const spec = new WantedRenderings().ofCut(old.document, old.cutId)[0]!;
    const next = set(made, { follow: 'stretch', transposeCents: 1200 }, tempoOf(made.document) / 1.3);
    const plan = compilePlan(next.document, RATE, {
      assets: next.assets,
      renderings: { version: 1, find: () => have.find(spec) },
    });
    expect(plan.patch.zones[0]!.sound).toMatchObject({ tuneCents: 1200, isRendering: true });
    expect(pitchHz(play(plan, RATE), 2_000, 40_000)).toBeCloseTo(800, -1);
  });
});

describe('following by speed, or not at all', () => {
  it('changes pitch and length together, at once when the tempo is turned', () => {
    const made = loopProject({ sampleRate: RATE, channels: [sine(400, 2)] }, [0]);
    const project = set(made, { follow: 'speed' }, tempoOf(made.document) * 1.5);
    const later = planOf(set(made, { follow: 'speed' }, tempoOf(made.document) * 1.25));
    const out = play(planOf(project), RATE, 0, (renderer, frame) => {
      if (frame === 441 * 50) renderer.setPlan(later);
    });
    expect(pitchHz(out, 2_000, 20_000)).toBeCloseTo(600, -1);
    expect(pitchHz(out, 24_000, 42_000)).toBeCloseTo(500, -1);
  });

  it('keeps its own tempo freely, whatever the song does', () => {
    const project = set(shortBursts(), { follow: 'none' }, 171);
    expect(cutTempoBpm(project.document, project.document.cuts[project.cutId]!)).toBeCloseTo(120, 9);
    const other = planOf(set(project, {}, 77));
    const out = play(planOf(project), 2 * RATE, 0, (renderer, frame) => {
      if (frame === 441 * 70) renderer.setPlan(other);
    });
    const heard = entries(out);
    heard.forEach((frame, k) => expect(Math.abs(frame - k * 11_025)).toBeLessThanOrEqual(2));
    expect(heard.length).toBe(8);
  });
});

describe('the whole song', () => {
  it('swings every second sixteenth', () => {
    const starts = Array.from({ length: 16 }, (_, step) => Math.round(step * 5_512.5));
    const audio = burstLoop(88_200, starts, RATE, 1);
    for (const index of audio.channels[0]!.keys()) {
      if (index - starts.findLast((start) => start <= index)! > 1_500) audio.channels[0]![index] = 0;
    }
    const made = loopProject(audio, starts);
    const document = unwrap(setSong(made.document, { swingPercent: 66 }));
    const heard = entries(play(planOf({ ...made, document: document }), RATE), 500);
    expect(heard[0]).toBeLessThanOrEqual(2);
    expect(Math.abs(heard[1]! - 11_025 * 0.66)).toBeLessThanOrEqual(3);
    expect(Math.abs(heard[2]! - 11_025)).toBeLessThanOrEqual(3);
  });

  it('is counted in with the click, bar by bar, before its first event', () => {
    const project = shortBursts();
    const clicked = unwrap(setSong(project.document, { clickSound: 'block' }));
    const plan = planOf({ ...project, document: clicked });
    const out = play(plan, 3 * RATE, -3840);
    const heard = entries(out);
    // Four beats of 120 bpm, then the song itself.
    expect(heard.slice(0, 4).map((frame) => Math.round(frame / 22_050))).toEqual([0, 1, 2, 3]);
    expect(Math.abs(heard[4]! - 2 * RATE)).toBeLessThanOrEqual(2);
    const without = play(plan, RATE, 0);
    expect(firstDifference(out.slice(2 * RATE, 2 * RATE + 20_000), without.slice(0, 20_000))).toBe(-1);
  });

  it('cuts tails at the end of a round when asked', () => {
    // A slice of three beats that comes in on the third: it rings one beat into the next round.
    const tone: AudioData = { sampleRate: RATE, channels: [sine(300, 2)] };
    const made = loopProject(tone, [0, 1.5 * RATE], 1);
    const offset = { startOffsetTicks: 1920 } as const;
    const ring = play(planOf(set(made, { ...offset, ringOver: true })), 3 * RATE);
    const cut = play(planOf(set(made, { ...offset, ringOver: false })), 3 * RATE);
    const after = (out: Float32Array) => energy(out, 2 * RATE + 400, 2 * RATE + 15_000);
    expect(after(ring)).toBeGreaterThan(1_000);
    expect(after(cut)).toBe(0);
  });

  it('lets loops of three and of four bars meet again exactly, after ten minutes and a thousand changes of tempo', () => {
    const three = shortBursts();
    const audio = three.assets.get('source-a')!;
    const env = { ...countingEnv(), newId: () => `other-${Math.random()}` };
    const source = { id: 'source-b', name: 'b', sampleRate: RATE, channels: 1, frames: 88_200 };
    const facts = three.document.cuts[three.cutId]!.slices;
    const first = Object.values(facts)[0]!;
    const added = unwrap(
      addPart(
        unwrap(setLoop(three.document, { cutId: three.cutId, loop: { bars: 3 } }, env)),
        {
          name: 'four',
          source,
          loop: { startFrame: 0, endFrame: 88_200, bars: 4, beatsPerBar: 4 },
          tempoReadings: [],
          slices: foundSlices([{ frame: 0, strength: 1 }], [first]),
          adoptTempo: false,
        },
        env,
      ),
    );
    const assets = new Map([...three.assets, ['source-b', audio]]);
    const renderer = new Renderer(RATE);
    const plan = compilePlan(added, RATE, { assets: assets });
    renderer.setPlan(plan);
    renderer.play();
    const left = new Float32Array(4096);
    const right = new Float32Array(4096);
    // Ten minutes, with another tempo every 0.6 s; positions are read off against their closed form.
    let ticks = 0;
    let tempo = tempoOf(added);
    for (let change = 0; change < 1_000; change++) {
      const frames = 26_460;
      for (let done = 0; done < frames; done += 4096) {
        const count = Math.min(4096, frames - done);
        renderer.process(left.subarray(0, count), right.subarray(0, count), count);
      }
      ticks += (frames / RATE) * (tempo / 60) * 960;
      tempo = 80 + ((change * 37) % 90);
      renderer.setValues([{ kind: 'song', id: '', slot: slotsOf(SONG_ROWS).tempoBpm, value: tempo }]);
    }
    expect(renderer.frame).toBe(26_460_000);
    expect(Math.abs(renderer.positionTicks - ticks)).toBeLessThan(1e-4);
    // The next common start of both: a multiple of twelve bars.
    const common = Math.ceil(renderer.positionTicks / (12 * 3840)) * 12 * 3840;
    const wait = Math.round(((common - renderer.positionTicks) / 960) * (60 / tempo) * RATE);
    const starts: number[][] = [[], []];
    const firsts = added.partOrder.map((partId) => added.parts[partId]!.zoneOrder[0]);
    const sounding = () => {
      const seen: number[] = [];
      renderer.eachSounding((_part, zoneId) => firsts.includes(zoneId) && seen.push(firsts.indexOf(zoneId)));
      return seen;
    };
    for (let at = 0; at < wait + 2; at++) {
      renderer.process(left, right, 1);
      if (at >= wait - 2) for (const partIndex of sounding()) starts[partIndex]!.push(at);
    }
    expect(starts[0]![0]).toBe(starts[1]![0]);
    expect(Math.abs(starts[0]![0]! - wait)).toBeLessThanOrEqual(1);
  });
});
