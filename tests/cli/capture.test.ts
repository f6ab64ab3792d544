import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { writeWav } from '#core/formats/wav-write.ts';
import { seededRandom } from '#core/units/random.ts';
import { yappa } from './run.ts';

const folder = mkdtempSync(join(tmpdir(), 'yappa-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));

it('yappa capture prints the hits of a recording, and names what cannot be', async () => {
  const random = seededRandom(4);
  const mono = Float32Array.from({ length: 88_200 }, () => 0.001 * (2 * random() - 1));
  for (const at of [30_000, 60_000])
    for (let i = 0; i < 4000; i++) mono[at + i]! += Math.sin(i / 5) * Math.exp(-i / 600);
  const file = join(folder, 'two.wav');
  writeFileSync(file, writeWav({ sampleRate: 44_100, channels: [mono] }, { encoding: 'float32' }));
  const { code, stdout } = await yappa('capture', file);
  expect(code).toBe(0);
  const [result] = JSON.parse(stdout) as { noiseFloorDb: number; takes: { startFrame: number }[] }[];
  expect(result!.noiseFloorDb).toBeCloseTo(-64.8, 0);
  expect(result!.takes.map(({ startFrame }) => Math.round((startFrame + 40) / 1000))).toEqual([30, 60]);
  const wrong = await yappa('capture', file, '--open', '-50', '--close', '-40');
  expect(wrong.code).toBe(1);
  expect(wrong.stderr).toContain('above where it opens');
  expect((await yappa('capture')).code).toBe(2);
});
