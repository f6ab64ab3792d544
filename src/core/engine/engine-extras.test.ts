import { describe, expect, it } from 'vitest';
import { duplicatePart } from '#core/project/commands/copy-part.ts';
import { copyPattern } from '#core/project/commands/patterns.ts';
import { placeEvent } from '#core/project/commands/events.ts';
import { loopProject, unwrap } from '../../../tests/support/documents.ts';
import { entries } from '../../../tests/support/playing.ts';
import { eightStepLoop, firstDifference } from '../../../tests/support/signals.ts';
import { emptyDocument } from '../document/defaults.ts';
import { AppError } from '../units/errors.ts';
import { bounce } from './bounce.ts';
import { clickTick } from './click.ts';
import { compilePlan } from './plan/compile.ts';
import { Renderer } from './renderer.ts';
import { MAX_VOICES } from './voice/pool.ts';
import { setPart, setZones, homeOf } from '../../../tests/support/edits.ts';

const RATE = 44100;

/** Plays nothing, at a tempo. */
function emptySong(tempoBpm: number): Renderer {
  const renderer = new Renderer(RATE);
  const document = { ...emptyDocument('empty', 'Empty'), song: { values: { tempoBpm }, zoneDefaults: {} } };
  renderer.setPlan(compilePlan(document, RATE, { assets: new Map() }));
  return renderer;
}

describe('ending by itself', () => {
  it('stops the song on the exact frame and lets the last slice fade', () => {
    const { audio, starts } = eightStepLoop();
    const { document, assets } = loopProject(audio, starts);
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(document, RATE, { assets: assets }));
    renderer.play(0, 3840);
    const left = new Float32Array(100_000);
    renderer.process(left, new Float32Array(100_000), 100_000);
    expect(renderer.playing).toBe(false);
    expect(firstDifference(left.subarray(0, 88_000), audio.channels[0]!.subarray(0, 88_000))).toBe(-1);
    expect(left.subarray(88_200 + 300).every((sample) => sample === 0)).toBe(true);
  });

  it('goes round until it is told where to end', () => {
    const { audio, starts } = eightStepLoop();
    const { document, assets } = loopProject(audio, starts);
    const renderer = new Renderer(RATE);
    renderer.setPlan(compilePlan(document, RATE, { assets: assets }));
    renderer.play();
    const block = new Float32Array(200_000);
    renderer.process(block, block, 200_000);
    expect(renderer.playing).toBe(true);
    renderer.endAt(3 * 3840);
    renderer.process(block, block, 100_000);
    expect(renderer.playing).toBe(false);
  });
});

describe('more voices than can be played live', () => {
  it('are all in a bounce', async () => {
    const { audio, starts } = eightStepLoop();
    const made = loopProject(audio, starts);
    const { assets, env, partId, home } = made;
    let document = unwrap(copyPattern(made.document, { partId, patternId: home }, env));
    document = unwrap(setPart(document, { partId, settings: { oneAtATime: false } }));
    const patternId = document.parts[partId]!.activePatternId;
    const zoneId = document.parts[partId]!.zoneOrder[0]!;
    // All within the 480 ticks that the slice lasts.
    for (let i = 0; i < 120; i++) {
      const args = { patternId, zoneId, positionTicks: 4 * i, lengthTicks: 480 };
      document = unwrap(placeEvent(document, args, env));
    }
    const plan = compilePlan(document, RATE, { assets });
    const heard = (voices: number) => {
      const renderer = new Renderer(RATE, voices);
      renderer.setPlan(plan);
      renderer.play();
      const left = new Float32Array(30_000);
      renderer.process(left, new Float32Array(30_000), 30_000);
      return left;
    };
    const bounced = (await bounce(plan, { lengthTicks: 1920 })).channels[0]!.subarray(0, 30_000);
    expect(firstDifference(bounced, heard(256))).toBe(-1);
    expect(firstDifference(bounced, heard(MAX_VOICES))).toBeGreaterThan(0);
  });
});

describe('previews', () => {
  it('in time begin on the very frame of the next bar line, whatever the blocks', () => {
    // 137 bpm: a bar is no whole number of frames.
    const barFrame = Math.round(((4 * 60) / 137) * RATE);
    const sound = { id: 'a', sampleRate: RATE, channels: [new Float32Array(5000).fill(0.5)] };
    for (const block of [64, 128, 1000]) {
      const renderer = emptySong(137);
      renderer.play();
      renderer.process(new Float32Array(10_000), new Float32Array(10_000), 10_000);
      renderer.preview(sound, 0, Infinity, true, null, true);
      expect(renderer.previewing).toBe(true);
      const left = new Float32Array(barFrame);
      for (let at = 0; at + block <= left.length; at += block) {
        renderer.process(left.subarray(at, at + block), new Float32Array(block), block);
      }
      expect(left.findIndex((sample) => sample !== 0) + 10_000).toBe(barFrame);
    }
  });

  it('in time begin at once while nothing plays, and are stopped before they begin', () => {
    const sound = { id: 'a', sampleRate: RATE, channels: [new Float32Array(5000).fill(0.5)] };
    const still = new Renderer(RATE);
    still.preview(sound, 0, Infinity, false, null, true);
    const left = new Float32Array(256);
    still.process(left, new Float32Array(256), 256);
    expect(left[200]).not.toBe(0);
    const renderer = emptySong(137);
    renderer.play();
    renderer.process(new Float32Array(1000), new Float32Array(1000), 1000);
    renderer.preview(sound, 0, Infinity, false, null, true);
    renderer.stopPreview();
    const silent = new Float32Array(2 * RATE);
    renderer.process(silent, new Float32Array(2 * RATE), 2 * RATE);
    expect(silent.every((sample) => sample === 0)).toBe(true);
    expect(renderer.previewing).toBe(false);
  });

  it('of a range go round without a missing or doubled sample', () => {
    const { audio } = eightStepLoop();
    const renderer = new Renderer(RATE);
    renderer.preview({ id: 'a', ...audio }, 0, 1000, true);
    const left = new Float32Array(4000);
    for (let at = 0; at < 4000; at += 128) {
      const count = Math.min(128, 4000 - at);
      renderer.process(left.subarray(at, at + count), new Float32Array(count), count);
    }
    // Between the short fades at the seam each round is the source.
    for (let round = 0; round < 4; round++) {
      const part = left.subarray(round * 1000 + 100, round * 1000 + 900);
      expect(firstDifference(part, audio.channels[0]!.subarray(100, 900))).toBe(-1);
    }
    renderer.stopPreview();
    renderer.process(left, new Float32Array(4000), 4000);
    expect(left[3999]).toBe(0);
  });
});

describe('previews with the click', () => {
  it('have a tick on each beat of the range, the first of a bar higher, round after round', () => {
    const renderer = new Renderer(RATE);
    const silence = new Float32Array(4 * 11_025);
    const click = { beatShares: [0, 0.25, 0.5, 0.75], beatsABar: 4, sound: 0, gain: 0.5 };
    renderer.preview({ id: 'a', sampleRate: RATE, channels: [silence] }, 0, silence.length, true, click);
    const left = new Float32Array(9 * 11_025);
    for (let at = 0; at < left.length; at += 441) {
      renderer.process(left.subarray(at, at + 441), new Float32Array(441), 441);
    }
    const tick = (isBar: boolean) => clickTick('tick', isBar, RATE);
    for (let beat = 0; beat < 9; beat++) {
      const wanted = tick(beat % 4 === 0);
      for (let i = 0; i < 500; i += 7) expect(left[beat * 11_025 + i]).toBeCloseTo(wanted[i]! * 0.5, 6);
      expect(left.subarray(beat * 11_025 + 4_000, (beat + 1) * 11_025).every((sample) => sample === 0)).toBe(true);
    }
  });
});

describe('previews with the click over bars of their own', () => {
  it('have it where each beat is', () => {
    const renderer = new Renderer(RATE);
    const click = { beatShares: [0, 0.2, 0.45, 0.8], beatsABar: 2, sound: 0, gain: 1 };
    const silence = new Float32Array(40_000);
    renderer.preview({ id: 'a', sampleRate: RATE, channels: [silence] }, 0, silence.length, true, click);
    const left = new Float32Array(80_000);
    renderer.process(left, new Float32Array(80_000), 80_000);
    const beats = [0, 8_000, 18_000, 32_000];
    const wanted = [...beats, ...beats.map((frame) => frame + 40_000)];
    const heard = entries(left, 3_000);
    expect(heard).toHaveLength(8);
    // A tick swells over its first frames.
    heard.forEach((frame, place) => expect(Math.abs(frame - wanted[place]!)).toBeLessThan(5));
  });
});

describe('bouncing', () => {
  it('only this part is heard, whether it is muted or another is soloed', async () => {
    const { audio, starts } = eightStepLoop();
    const { document, assets, env, partId } = loopProject(audio, starts);
    const two = unwrap(duplicatePart(document, { partId }, env));
    const other = two.partOrder[1]!;
    const whole = await bounce(compilePlan(document, RATE, { assets }), { lengthTicks: 3840 });
    const muted = unwrap(setPart(two, { partId, settings: { muted: true } }));
    const shadowed = unwrap(setPart(two, { partId: other, settings: { soloed: true } }));
    for (const current of [two, muted, shadowed]) {
      const plan = compilePlan(current, RATE, { assets, onlyPartId: partId });
      const alone = await bounce(plan, { lengthTicks: 3840 });
      expect(firstDifference(alone.channels[0]!, whole.channels[0]!)).toBe(-1);
      expect(alone.channels[0]!.some((sample) => sample !== 0)).toBe(true);
    }
  });

  it('can be cancelled', async () => {
    const { audio, starts } = eightStepLoop();
    const { document, assets } = loopProject(audio, starts);
    const plan = compilePlan(document, RATE, { assets: assets });
    const cancelled = bounce(plan, { lengthTicks: 38_400, onProgress: () => false });
    await expect(cancelled).rejects.toSatisfy((error) => error instanceof AppError && error.code === 'cancelled');
  });

  it('lets the tail ring out', async () => {
    const audio = { sampleRate: RATE, channels: [new Float32Array(88_200).fill(0.5)] };
    const { document, assets, partId } = loopProject(audio, [0, 44_100]);
    const half = { lengthTicks: 1900 };
    const plan = compilePlan(unwrap(setPart(document, { partId, settings: { stopFadeMs: 50 } })), RATE, { assets });
    const dry = await bounce(plan, half);
    const wet = await bounce(plan, { ...half, ringOut: true });
    expect(dry.channels[0]!.length).toBe(Math.round((1900 * RATE) / 1920));
    expect(wet.channels[0]!.length).toBeGreaterThan(dry.channels[0]!.length);
    // What went on in the next slice fades within its own last 50 ms: nothing of the next is heard.
    const [left] = wet.channels;
    const common = 44_100 - Math.round(0.05 * RATE);
    expect(firstDifference(left!.subarray(0, common), dry.channels[0]!.subarray(0, common))).toBe(-1);
    expect(Math.abs(left!.at(-1)!)).toBeLessThan(0.001);
    for (let i = 1; i < left!.length; i++) expect(Math.abs(left![i]! - left![i - 1]!)).toBeLessThan(0.01);
  });
});

/** What so many voices would cost that are only read between their samples, scaled and added up. */
function addUp(voices: number, frames: number): number {
  const source = new Float32Array(frames + 2).fill(0.1);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let voice = 0; voice < voices; voice++) {
    for (let i = 0; i < frames; i++) {
      const sample = source[i]! + (source[i + 1]! - source[i]!) * 0.3;
      left[i]! += sample * 0.5;
      right[i]! += sample * 0.7;
    }
  }
  return left[0]! + right[frames - 1]!;
}

describe('voices', () => {
  // Measured alone on the development machine: 15 times real time as they are, 7 to 9 transposed, which is 0.5 to 0.9 and 6
  // times the plain arithmetic. How fast a machine is while other tests run beside is told by that, done in turns.
  it.each([
    [0, 2],
    [400, 12],
  ])(
    'sixty-four with their envelopes, %i cents up, cost less than %i times what adding up so many samples does',
    async (cents, times) => {
      const { audio } = eightStepLoop(2 * 88_200);
      const made = loopProject(audio, [0]);
      const { env, partId, cutId, assets } = made;
      let document = unwrap(
        setPart(made.document, { partId, settings: { oneAtATime: false, gainDb: -30, transposeCents: cents } }, env),
      );
      const sliceIds = Object.keys(document.cuts[cutId]!.slices);
      const sound = { attackMs: 20, decayMs: 400, sustain: 0.5 };
      document = unwrap(setZones(document, { partId, sliceIds, sound }, env));
      document = unwrap(copyPattern(document, { partId, patternId: homeOf(document, partId) }, env));
      const patternId = document.parts[partId]!.activePatternId;
      for (let voice = 1; voice < MAX_VOICES; voice++) {
        document = unwrap(
          placeEvent(
            document,
            { patternId, zoneId: document.parts[partId]!.zoneOrder[0]!, positionTicks: voice, lengthTicks: 3000 },
            env,
          ),
        );
      }
      const renderer = new Renderer(RATE);
      renderer.setPlan(compilePlan(document, RATE, { assets: assets }));
      renderer.play();
      const block = new Float32Array(128);
      const other = new Float32Array(128);
      renderer.process(block, other, 128);
      const engineMs: number[] = [];
      const plainMs: number[] = [];
      // Short stretches: on a busy machine one of them goes through without a stop.
      for (let stretch = 0; stretch < 80; stretch++) {
        const began = performance.now();
        for (let rendered = 0; rendered < RATE / 80; rendered += 128) renderer.process(block, other, 128);
        const between = performance.now();
        addUp(MAX_VOICES, RATE / 80);
        engineMs.push(between - began);
        plainMs.push(performance.now() - between);
      }
      let sounding = 0;
      renderer.eachSounding(() => sounding++);
      expect(sounding).toBeGreaterThanOrEqual(MAX_VOICES - 1);
      expect(Math.min(...engineMs) / Math.min(...plainMs)).toBeLessThan(times);
    },
  );
});
