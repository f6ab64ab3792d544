import { describe, expect, it } from 'vitest';
import { packValues } from '../../params/row.ts';
import { CHANNEL_ROWS } from '../../params/tables.ts';
import { momentAt } from '../../../../tests/support/mixing.ts';
import { dbToGain } from '../../units/level.ts';
import { ChannelState } from './channel.ts';

const fragment = (gainDb: number, isHeard = true) => ({
  id: 'c',
  values: packValues(CHANNEL_ROWS, { gainDb }),
  isHeard,
  outputId: null,
  isOutputOpen: true,
  effects: [],
  sends: [],
});

/** What comes out for a level that goes in. */
function rendered(channel: ChannelState, frames: number, level = 1): Float32Array {
  channel.left.fill(level, 0, frames);
  channel.right.fill(level, 0, frames);
  const out = new Float32Array(frames);
  channel.outputs.forEach((way) => (way.to = null));
  channel.mixInto({ left: out, right: new Float32Array(frames) }, 0, frames, momentAt(0), 0);
  return out;
}

describe('a channel', () => {
  it('that was muted before it ever sounded is silent from its first sample on', () => {
    const channel = new ChannelState(fragment(0), 44100);
    channel.take(fragment(0, false));
    expect(rendered(channel, 512).every((sample) => sample === 0)).toBe(true);
  });

  it('that is muted in the silence after a sound, or stops on its way to silence, leaks nothing of the next', () => {
    const channel = new ChannelState(fragment(0), 44100);
    rendered(channel, 64);
    rendered(channel, 64, 0);
    channel.take(fragment(0, false));
    expect(rendered(channel, 512).every((sample) => sample === 0)).toBe(true);
    channel.take(fragment(0));
    rendered(channel, 64);
    rendered(channel, 64, 0);
    expect(rendered(channel, 1)[0]).toBe(1);
  });

  it('that sounds comes to a new level without a step', () => {
    const channel = new ChannelState(fragment(0), 44100);
    rendered(channel, 64);
    channel.take(fragment(-12));
    const out = rendered(channel, 512);
    expect(out[0]).toBeCloseTo(1, 2);
    for (let i = 1; i < 512; i++) expect(Math.abs(out[i]! - out[i - 1]!)).toBeLessThan(0.004);
    expect(out[511]).toBeCloseTo(dbToGain(-12), 5);
  });
});
