/** Brings the samples of float files into a range that can be worked with, and says what it did. */
import type { AudioData } from '../dsp/audio.ts';

/** What was done; all 0 for a sound that was in order. */
export interface MendedLevels {
  /** Samples that were no numbers or infinite, and are now 0. */
  nonNumbers: number;
  /** Single samples far beyond full scale that are now held at it. */
  clipped: number;
  /** The whole sound was turned down by this, in dB: it was made to another scale. */
  loweredDb: number;
}

export const NOTHING_MENDED: MendedLevels = { nonNumbers: 0, clipped: 0, loweredDb: 0 };

/** Float sounds may exceed full scale (headroom, common practice), but not by more than this factor (24 dB). */
const MAX_LEVEL = 16;
/** A smaller share of samples beyond it is damage; a larger one is a sound of another scale. */
const DAMAGE_SHARE = 1e-3;

/** Changes `audio` in place. */
export function mendLevels(audio: AudioData): MendedLevels {
  const mended = { ...NOTHING_MENDED };
  let peak = 0;
  let beyond = 0;
  let count = 0;
  for (const channel of audio.channels) {
    count += channel.length;
    for (let i = 0; i < channel.length; i++) {
      const level = Math.abs(channel[i]!);
      if (level <= MAX_LEVEL) continue;
      if (level < Infinity) {
        beyond++;
        if (level > peak) peak = level;
      } else {
        channel[i] = 0;
        mended.nonNumbers++;
      }
    }
  }
  if (beyond === 0) return mended;
  const isDamage = beyond < DAMAGE_SHARE * count;
  if (isDamage) mended.clipped = beyond;
  else mended.loweredDb = 20 * Math.log10(peak);
  for (const channel of audio.channels) {
    for (let i = 0; i < channel.length; i++) {
      if (!isDamage) channel[i]! /= peak;
      else if (Math.abs(channel[i]!) > MAX_LEVEL) channel[i] = Math.sign(channel[i]!);
    }
  }
  return mended;
}

/** `12 samples were no numbers and are now silent`; null when nothing was mended. */
export function mendedWords({ nonNumbers, clipped, loweredDb }: MendedLevels): string | null {
  const were = (count: number) => `${count} ${count === 1 ? 'sample was' : 'samples were'}`;
  const did = [
    nonNumbers > 0 && `${were(nonNumbers)} no numbers and now silent`,
    clipped > 0 && `${were(clipped)} far beyond full scale and now held at it`,
    loweredDb > 0 && `the whole sound was far beyond full scale and is turned down by ${Math.round(loweredDb)} dB`,
  ].filter((words) => words !== false);
  return did.length > 0 ? did.join('; ') : null;
}
