/**
 * A loop inside a sound, made ready for reading: its seam crossfaded, and what comes round again laid on behind, so that
 * reading between samples sees no seam whatever the pitch.
 */
import { SINC_REACH } from './sinc-reach.ts';

/** Frames beside the loop that reading may see. */
export const LOOP_GUARD_FRAMES = SINC_REACH + 4;

export interface LoopRange {
  startFrame: number;
  endFrame: number;
  /** Where the sound itself begins: what lies before it is not heard. */
  soundStartFrame: number;
  /**
   * Before the end, over into what lies before the start; at most half of the loop, and what there is before it. Where
   * that is next to nothing the end fades out instead, and the start comes as it is.
   */
  crossfadeFrames: number;
  /** There and back again instead of round. */
  isBoth: boolean;
}

export interface LaidLoop {
  channels: Float32Array[];
  /** Frame of the sound that index 0 stands for. */
  baseFrame: number;
  /** Frames after which it repeats: the loop's length, or nearly twice that. */
  periodFrames: number;
  /** From here back by the period; all frames of the sound, though what lies after the loop's end is its beginning. */
  wrapFrame: number;
  /** Up to here it is sample for sample the sound itself; the loop can be entered and left. */
  plainEndFrame: number;
}

/** A crossfade shorter than this is none. */
const SHORTEST_CROSSFADE_FRAMES = 48;

/** How alike both sides of a crossfade are, -1..1. */
function likeness(channel: Float32Array, endFrame: number, startFrame: number, frames: number): number {
  let product = 0;
  let powerA = 1e-12;
  let powerB = 1e-12;
  for (let i = 1; i <= frames; i++) {
    const a = channel[endFrame - i]!;
    const b = channel[startFrame - i]!;
    product += a * b;
    powerA += a * a;
    powerB += b * b;
  }
  return product / Math.sqrt(powerA * powerB);
}

/**
 * Lays a loop. Both sides of the crossfade keep their power together: `a = (1 - t) / n, b = t / n` with
 * `n^2 = (1 - t)^2 + t^2 + 2 t (1 - t) r`, r being how alike they are.
 * @param range inside the channels; a loop has at least one frame
 */
export function layLoop(channels: readonly Float32Array[], range: LoopRange): LaidLoop {
  const { startFrame, endFrame, soundStartFrame, isBoth } = range;
  const length = endFrame - startFrame;
  const baseFrame = Math.max(0, startFrame - LOOP_GUARD_FRAMES);
  const wanted = isBoth ? 0 : Math.min(range.crossfadeFrames, length >> 1);
  const before = startFrame - soundStartFrame;
  const fadesOut = before < Math.min(wanted, SHORTEST_CROSSFADE_FRAMES);
  const crossfade = fadesOut ? wanted : Math.min(wanted, before);
  const periodFrames = isBoth ? Math.max(1, 2 * (length - 1)) : length;
  const wrapFrame = startFrame + periodFrames + LOOP_GUARD_FRAMES;
  const total = wrapFrame + LOOP_GUARD_FRAMES + 1 - baseFrame;
  const laid = channels.map((channel) => {
    const out = new Float32Array(total);
    const r = fadesOut ? 0 : likeness(channel, endFrame, startFrame, crossfade);
    const within = (place: number): number => {
      if (isBoth) return channel[startFrame + (place < length ? place : periodFrames - place)]!;
      const toEnd = length - place;
      const plain = channel[startFrame + place]!;
      if (toEnd > crossfade) return plain;
      const t = (crossfade - toEnd + 1) / (crossfade + 1);
      if (fadesOut) return plain * (1 - t);
      const norm = Math.sqrt((1 - t) ** 2 + t * t + 2 * t * (1 - t) * Math.max(0, r));
      return (plain * (1 - t) + channel[startFrame - toEnd]! * t) / norm;
    };
    for (let i = 0; i < total; i++) {
      const place = baseFrame + i - startFrame;
      const frame = baseFrame + i;
      if (place < 0) out[i] = frame < soundStartFrame ? 0 : channel[frame]!;
      else out[i] = within(place % periodFrames);
    }
    return out;
  });
  const plainEndFrame = endFrame - crossfade - LOOP_GUARD_FRAMES;
  return { channels: laid, baseFrame, periodFrames, wrapFrame, plainEndFrame };
}
