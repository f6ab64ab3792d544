/** The loop inside a zone's samples, laid and ready to be read. */
import type { AudioData } from '../../dsp/audio.ts';
import { layLoop } from '../../dsp/sound-loop.ts';
import type { SoundLoop } from '../../document/schema.ts';
import type { PlanLoop, ZoneSound } from './fragments.ts';
import type { ZoneSampleSettings } from './renderings.ts';

/** Of a source, half-open. */
export interface FrameRange {
  startFrame: number;
  endFrame: number;
}

/** Crossfade of a loop that nobody has set, in seconds. */
const USUAL_CROSSFADE_SECONDS = 0.005;

/** What goes round in a zone by its settings, in frames of its source; null when nothing does. */
export function zoneLoop(
  { loopMode, loop }: Pick<ZoneSampleSettings, 'loopMode' | 'loop'>,
  at: FrameRange,
  sampleRate: number,
): (SoundLoop & { isBoth: boolean }) | null {
  if (loopMode === 'off') return null;
  const usual = { startFrame: at.startFrame, endFrame: at.endFrame };
  const crossfadeFrames = Math.round(USUAL_CROSSFADE_SECONDS * sampleRate);
  return { ...(loop ?? { ...usual, crossfadeFrames }), isBoth: loopMode === 'both' };
}

/**
 * Lays a zone's loop into the samples that it plays; where those are stretched, at the same share of the slice.
 * @param keep takes samples into the plan and gives the id that names them
 */
export function laidLoop(
  sound: ZoneSound,
  audio: AudioData,
  loop: NonNullable<ReturnType<typeof zoneLoop>>,
  at: FrameRange,
  keep: (id: string, audio: AudioData) => string,
): PlanLoop | null {
  const frames = audio.channels[0]!.length;
  const scale =
    sound.isRendering && sound.isTransposed
      ? (sound.naturalEndFrame - sound.startFrame) / Math.max(1, at.endFrame - at.startFrame)
      : 1;
  const frameOf = (frame: number) =>
    sound.isRendering ? sound.startFrame + Math.round((frame - at.startFrame) * scale) : frame;
  const startFrame = Math.max(0, Math.min(frames - 1, frameOf(loop.startFrame)));
  const endFrame = Math.max(startFrame + 1, Math.min(frames, frameOf(loop.endFrame)));
  const soundStartFrame = Math.min(startFrame, sound.startFrame);
  const range = { startFrame, endFrame, soundStartFrame, crossfadeFrames: loop.crossfadeFrames, isBoth: loop.isBoth };
  const { channels, ...laid } = layLoop(audio.channels, range);
  const name = [sound.sourceId, 'loop', ...Object.values(range)].join(':');
  return { ...laid, startFrame, sourceId: keep(name, { sampleRate: audio.sampleRate, channels }) };
}
