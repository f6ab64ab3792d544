import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { cutAtHits } from '#core/analysis/cut.ts';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { frameCount } from '#core/dsp/audio.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { fixtureLoops } from '../support/fixtures.ts';
import { sine } from '../support/signals.ts';
import { yappa } from './run.ts';

const folder = mkdtempSync(join(tmpdir(), 'yappa-stretch-'));
afterAll(() => rmSync(folder, { recursive: true }));
const out = join(folder, 'out.wav');
const loop = 'tests/fixtures/loops/swing-04.flac';

describe('yappa stretch', () => {
  it.each(['slices', 'stretch'] as const)('by %s puts every true attack of a loop into its place', async (mode) => {
    const { truth, audio } = (await fixtureLoops()).find(({ name }) => loop.endsWith(name))!;
    const [from, to] = [truth.bpm, truth.bpm * 0.8];
    const { code, stdout } = await yappa(
      'stretch',
      loop,
      '--out',
      out,
      '--from',
      `${from}`,
      '--to',
      `${to}`,
      '--mode',
      mode,
    );
    expect(code).toBe(0);
    const result = readWav(readFileSync(out)).audio;
    expect(JSON.parse(stdout)).toMatchObject({ file: loop, mode, frames: frameCount(result) });
    expect(Math.abs(frameCount(result) - frameCount(audio) / 0.8)).toBeLessThanOrEqual(1);
    // Cut again, the result has its hits where the truth puts them.
    const found = cutAtHits(analyseSource(result), DEFAULT_SELECTION).map((marker) => marker.frame);
    for (const { frame } of truth.onsets) {
      const nearest = Math.min(...found.map((at) => Math.abs(at - frame / 0.8)));
      expect((nearest / truth.sampleRate) * 1000).toBeLessThan(3);
    }
  });

  it('transposes without changing the length, and by speed with it', async () => {
    const tone = join(folder, 'tone.wav');
    writeFileSync(tone, writeWav({ sampleRate: 44100, channels: [sine(440, 2)] }, { encoding: 'float32' }));
    const hz = () => {
      const [samples] = readWav(readFileSync(out)).audio.channels;
      let crossings = 0;
      for (let i = 4_000; i < samples!.length - 4_000; i++) if (samples![i - 1]! < 0 && samples![i]! >= 0) crossings++;
      return { hz: (crossings / (samples!.length - 8_000)) * 44100, frames: samples!.length };
    };
    expect((await yappa('stretch', tone, '--out', out, '--from', '100', '--to', '100', '--semitones', '7')).code).toBe(
      0,
    );
    expect(hz().frames).toBe(88_200);
    expect(hz().hz).toBeCloseTo(440 * 2 ** (7 / 12), -1);
    // A negative number is a value, not an option.
    const down = ['stretch', tone, '--out', out, '--from', '100', '--to', '100', '--semitones', '-3'];
    expect(await yappa(...down)).toMatchObject({ code: 0 });
    expect(hz().hz).toBeCloseTo(440 * 2 ** (-3 / 12), -1);
    expect((await yappa('stretch', tone, '--out', out, '--from', '100', '--to', '125', '--follow', 'speed')).code).toBe(
      0,
    );
    expect(hz().frames).toBe(70_560);
    expect(hz().hz).toBeCloseTo(550, -1);
  });

  it('names what is wrong and the way out', async () => {
    const beyond = await yappa('stretch', loop, '--out', out, '--from', '40', '--to', '200');
    expect(beyond).toMatchObject({ code: 1 });
    expect(beyond.stderr).toContain('use --follow slices or --follow speed');
    expect((await yappa('stretch', loop, '--out', out, '--from', '40')).code).toBe(2);
    expect((await yappa('stretch', loop, '--from', '100', '--to', '90')).stderr).toContain('--out');
    expect((await yappa('stretch', loop, '--out', out, '--from', '100', '--to', 'fast')).stderr).toContain('20 to 400');
    expect(
      (await yappa('stretch', loop, '--out', out, '--from', '100', '--to', '90', '--follow', 'magic')).stderr,
    ).toContain('slices, stretch, speed');
    expect((await yappa('stretch', 'nowhere.wav', '--out', out, '--from', '100', '--to', '90')).code).toBe(1);
  });
});
