import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, extname, join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { readWav } from '#core/formats/wav-read.ts';
import { fixtureLoops } from '../support/fixtures.ts';
import { yappa } from './run.ts';

const folder = mkdtempSync(join(tmpdir(), 'yappa-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));

const loop = 'tests/fixtures/loops/swing-04.flac';

describe('yappa slice', () => {
  it('prints what it found as JSON', async () => {
    const { code, stdout } = await yappa('slice', loop, 'tests/fixtures/loops/fast-04.flac');
    expect(code).toBe(0);
    const results = JSON.parse(stdout) as Record<string, never>[];
    const truth = (await fixtureLoops()).find((one) => loop.endsWith(one.name))!.truth;
    expect(results).toHaveLength(2);
    expect(results[0]).toMatchObject({
      file: loop,
      sampleRate: truth.sampleRate,
      frames: truth.frames,
      channels: 1,
      tempo: { bars: truth.bars, beatsPerBar: 4 },
    });
    const { slices, tempo } = results[0] as unknown as {
      slices: Record<string, number>[];
      tempo: { bpm: number; alternatives: unknown[] };
    };
    expect(Math.abs(tempo.bpm - truth.bpm)).toBeLessThan(0.1);
    expect(tempo.alternatives.length).toBeGreaterThan(1);
    expect(Object.keys(slices[0]!).sort()).toEqual([
      'cents',
      'endFrame',
      'midi',
      'role',
      'roleConfidence',
      'startFrame',
      'strength',
    ]);
    slices.forEach((slice, index) => expect(slice.endFrame).toBe(slices[index + 1]?.startFrame ?? truth.frames));
  });

  it('cuts in equal parts, on a grid and at notes', async () => {
    const starts = async (...options: string[]) =>
      (
        JSON.parse((await yappa('slice', loop, ...options)).stdout) as { slices: { startFrame: number }[] }[]
      )[0]!.slices.map((s) => s.startFrame);
    expect(await starts('--method', 'count', '--count', '8')).toHaveLength(8);
    expect(await starts('--method', 'grid', '--division', '16', '--tempo', '118')).toHaveLength(16);
    expect((await starts('--method', 'pitch')).length).toBeGreaterThan(0);
    expect((await starts('--sensitivity', '0.95')).length).toBeGreaterThanOrEqual(
      (await starts('--sensitivity', '0.05')).length,
    );
  });

  it('writes the slices of two files of one name beside each other', async () => {
    const other = join(folder, 'other', basename(loop));
    mkdirSync(dirname(other));
    copyFileSync(loop, other);
    const out = join(folder, 'beside');
    expect((await yappa('slice', loop, other, '--method', 'equal', '--count', '3', '--out', out)).code).toBe(0);
    const stem = basename(loop, extname(loop));
    const names = [stem, `${stem} 2`].flatMap((words) => [1, 2, 3].map((n) => `${words}-${n}.wav`));
    expect(readdirSync(out).sort()).toEqual(names.sort());
  });

  it('writes each slice as a WAV file that together give the source back', async () => {
    const out = join(folder, 'slices');
    const { code, stdout } = await yappa('slice', loop, '--out', out);
    expect(code).toBe(0);
    const [{ frames, slices }] = JSON.parse(stdout) as [{ frames: number; slices: { startFrame: number }[] }];
    const files = readdirSync(out).sort();
    expect(files).toHaveLength(slices.length);
    const total = files.reduce(
      (sum, file) => sum + readWav(readFileSync(join(out, file))).audio.channels[0]!.length,
      0,
    );
    expect(total).toBe(frames - slices[0]!.startFrame);
  });

  it('names a bad file, goes on with the others and exits 1', async () => {
    const letter = join(folder, 'letter.wav');
    writeFileSync(letter, 'dear captain');
    const { code, stdout, stderr } = await yappa('slice', letter, join(folder, 'missing.wav'), loop);
    expect(code).toBe(1);
    expect(stderr).toContain(`${letter}: this is not a WAV, FLAC, MP3, Ogg or AIFF file`);
    expect(stderr).toContain('missing.wav: there is no such file');
    expect(JSON.parse(stdout)).toHaveLength(1);
  });

  it.each([[['--help']], [['help']], [['slice', '--help']]])('says what it can do for %j', async (args) => {
    const { code, stdout, stderr } = await yappa(...args);
    expect([code, stderr]).toEqual([0, '']);
    expect(stdout).toContain('usage: yappa COMMAND');
  });

  it.each([
    [['slice'], 'name at least one sound file'],
    [['slice', loop, '--method', 'magic'], '--method is one of'],
    [['slice', loop, '--sensitivity', '7'], '--sensitivity takes a number from 0 to 1'],
    [['slice', loop, '--count', '1.5'], '--count takes a whole number'],
    [['slice', loop, '--nonsense'], 'nonsense'],
    [['frobnicate'], 'there is no command "frobnicate"'],
    [[], 'name a command'],
  ])('exits 2 and shows the usage for %j', async (args, words) => {
    const { code, stdout, stderr } = await yappa(...args);
    expect(code).toBe(2);
    expect(stdout).toBe('');
    expect(stderr).toContain(words);
    expect(stderr).toContain('usage: yappa COMMAND');
  });
});
