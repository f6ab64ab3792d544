/** Nothing is allocated while sound runs: measured in a process of its own, where nothing else makes garbage. */
import { execFile } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { describe, expect, it } from 'vitest';
import { EFFECT_KINDS } from '#core/params/effects.ts';

const script = fileURLToPath(new URL('../support/allocation.ts', import.meta.url));

describe('an effect', () => {
  it('allocates nothing while it runs, whatever its settings', { timeout: 120_000 }, async () => {
    // A young generation that is never full: what was allocated is still there when it is counted.
    const flags = ['--min-semi-space-size=128', '--max-semi-space-size=128', '--import', 'tsx'];
    const { stdout } = await promisify(execFile)(process.execPath, [...flags, script]);
    const bytesAStep = JSON.parse(stdout) as Record<string, number>;
    expect(Object.keys(bytesAStep)).toHaveLength(2 * EFFECT_KINDS.length);
    // A number that the engine boxes at each of the 32 frames comes to 512 bytes: a few are let pass, a list or an object
    // a frame is not.
    const wasteful = Object.entries(bytesAStep).filter(([, bytes]) => bytes > 2_200);
    expect(wasteful).toEqual([]);
  });
});
