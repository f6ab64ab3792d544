/** The click laid over a loop, to judge its tempo by ear. */
import type { AudioData } from '../dsp/audio.ts';
import { addSamples } from '../dsp/mixing.ts';
import { countedBeats } from '../units/time.ts';
import { clickTick, type ClickSound } from './click.ts';

export interface ClickedLoop {
  startFrame: number;
  endFrame: number;
  bars: number;
  beatsPerBar: number;
}

/** The loop's samples with a tick on each of its beats, at the frame where the beat lies by its own tempo. */
export function clickOver(audio: AudioData, loop: ClickedLoop, sound: ClickSound, gain: number): AudioData {
  const { startFrame, endFrame, bars, beatsPerBar } = loop;
  const channels = audio.channels.map((channel) => channel.slice(startFrame, endFrame));
  const frames = endFrame - startFrame;
  const perBar = countedBeats(beatsPerBar);
  const beats = bars * perBar;
  const ticks = [clickTick(sound, false, audio.sampleRate), clickTick(sound, true, audio.sampleRate)] as const;
  for (let beat = 0; beat < beats; beat++) {
    const at = Math.round((beat * frames) / beats);
    const tick = ticks[beat % perBar === 0 ? 1 : 0];
    for (const channel of channels) addSamples(channel, at, tick, gain);
  }
  return { sampleRate: audio.sampleRate, channels };
}
