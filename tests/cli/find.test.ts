import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { readWav } from '#core/formats/wav-read.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { rehearsal } from '../support/recording.ts';
import { yappa } from './run.ts';

const folder = mkdtempSync(join(tmpdir(), 'yappa-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));

it('yappa find prints the breaks of a recording and writes each; what cannot be is named', async () => {
  const { samples, sampleRate, breaks } = rehearsal();
  const file = join(folder, 'rehearsal.wav');
  writeFileSync(file, writeWav({ sampleRate, channels: [samples] }, { encoding: 'pcm16' }));
  const out = join(folder, 'breaks');
  const { code, stdout } = await yappa('find', file, '--bars', '1,2', '--out', out);
  expect(code).toBe(0);
  const [result] = JSON.parse(stdout) as {
    breaks: { startFrame: number; endFrame: number; bars: number; bpm: number; seamless: number }[];
  }[];
  expect(result!.breaks.map(({ bpm }) => Math.round(bpm)).sort()).toEqual([121, 98].sort());
  for (const { startFrame, endFrame } of result!.breaks) {
    expect(breaks.some((one) => startFrame > one.startFrame - 441 && endFrame < one.endFrame + 441)).toBe(true);
  }
  expect(readdirSync(out)).toEqual(['rehearsal-break-01.wav', 'rehearsal-break-02.wav']);
  const first = readWav(Uint8Array.from(readFileSync(join(out, 'rehearsal-break-01.wav'))));
  const [best] = result!.breaks;
  expect(first.audio.channels[0]!.length).toBe(best!.endFrame - best!.startFrame);
  expect(first.audio.channels[0]![500]).toBeCloseTo(samples[best!.startFrame + 500]!, 3);
  const wrong = await yappa('find', file, '--from', '120', '--to', '90');
  expect(wrong.code).toBe(1);
  expect(wrong.stderr).toContain('rehearsal.wav');
  expect((await yappa('find', file, '--bars', '0')).code).toBe(2);
  expect((await yappa('find')).code).toBe(2);
});
