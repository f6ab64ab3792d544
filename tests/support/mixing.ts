/** What tests of channels and effects have in common. */
import { CONTROL_FRAMES } from '#core/engine/control/control-step.ts';
import type { Moment } from '#core/engine/mix/effects/effect.ts';
import type { ChannelFragment, SendFragment } from '#core/engine/plan/fragments.ts';
import { packValues } from '#core/params/row.ts';
import { CHANNEL_ROWS, SEND_ROWS } from '#core/params/tables.ts';

const RATE = 44100;

/** A moment of a song at 120 beats a minute that does not run. */
export function momentAt(frame: number): Moment {
  return {
    frame,
    sampleRate: RATE,
    tempoBpm: 120,
    positionTicks: 0,
    isRunning: false,
    songFrame: frame,
    isStep: frame % CONTROL_FRAMES === 0,
    rootNote: -1,
    hits: null,
    lateFrames: 0,
  };
}

/** A channel that is heard, and led out. */
export function channelFragment(id: string, settings: Partial<ChannelFragment> = {}, gainDb = 0): ChannelFragment {
  return {
    id,
    outputId: null,
    isHeard: true,
    isOutputOpen: true,
    effects: [],
    sends: [],
    values: packValues(CHANNEL_ROWS, { gainDb }),
    ...settings,
  };
}

/** A send to a channel, called after it. */
export function sendFragment(toChannelId: string, gainDb = 0, tap: 'after' | 'before' = 'after'): SendFragment {
  return { id: `to-${toChannelId}`, toChannelId, isOpen: true, values: packValues(SEND_ROWS, { gainDb, tap }) };
}
