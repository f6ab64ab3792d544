/** What rings in effects: taken along to its end by a bounce, silenced when all sound is to be off. */
import { describe, expect, it } from 'vitest';
import { rms } from '../../../../tests/support/effects.ts';
import { countingEnv, unwrap } from '../../../../tests/support/documents.ts';
import { planOf, shortBursts } from '../../../../tests/support/playing.ts';
import { addEffect } from '../../project/commands/effects.ts';
import { setValue } from '../../project/commands/values.ts';
import type { EffectKind } from '../../params/effects.ts';
import { bounce } from '../bounce.ts';
import { Renderer } from '../renderer.ts';

const RATE = 44_100;

function planWith(kind: EffectKind, values: Record<string, number | string | boolean>) {
  const made = shortBursts();
  const env = countingEnv();
  const { channelId } = made.document.parts[made.partId]!;
  let document = unwrap(addEffect(made.document, { channelId, kind }, env));
  const owners = [{ kind: 'effect' as const, id: document.channels[channelId]!.effectOrder[0]! }];
  for (const [param, to] of Object.entries(values))
    document = unwrap(setValue(document, { owners, param, change: { to } }, env));
  return planOf({ ...made, document });
}

describe('what rings in an effect', () => {
  it('is bounced to its end, also over the silence between two echoes', async () => {
    const plan = planWith('echo', { timeIn: 'ms', timeMs: 1500, feedback: 0.3, wet: 1 });
    const { channels } = await bounce(plan, { lengthTicks: 3840, ringOut: true });
    const level = (seconds: number) =>
      rms(channels[0]!, Math.round(seconds * RATE), Math.round((seconds + 0.3) * RATE));
    const lengthSeconds = channels[0]!.length / RATE;
    expect(lengthSeconds).toBeGreaterThan(6);
    // The second echo of the first burst, and the third.
    expect(level(3)).toBeGreaterThan(1e-3);
    expect(level(4.5)).toBeGreaterThan(3e-4);
  });

  it('with one that never rests but makes nothing of silence ends with the sound', async () => {
    const { channels } = await bounce(planWith('ducking', {}), { lengthTicks: 3840, ringOut: true });
    expect(channels[0]!.length / RATE).toBeLessThan(6);
  });

  it.each<[EffectKind, Record<string, number | string | boolean>]>([
    ['echo', { timeIn: 'ms', timeMs: 200, feedback: 0.98, wet: 1 }],
    ['room', { decaySeconds: 60, wet: 1 }],
  ])('of %s is silent within a moment when all sound is to be off', (kind, values) => {
    const renderer = new Renderer(RATE);
    renderer.setPlan(planWith(kind, values));
    renderer.play();
    const left = new Float32Array(RATE);
    const right = new Float32Array(RATE);
    renderer.process(left, right, RATE);
    renderer.stop();
    renderer.process(left, right, RATE);
    expect(rms(left)).toBeGreaterThan(1e-3);
    renderer.allSoundOff();
    renderer.process(left, right, RATE);
    let step = 0;
    for (let i = 1; i < 1000; i++) step = Math.max(step, Math.abs(left[i]! - left[i - 1]!));
    expect(rms(left, 1000, RATE)).toBe(0);
    expect(step).toBeLessThan(0.5);
  });
});
