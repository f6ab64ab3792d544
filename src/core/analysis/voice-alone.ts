/**
 * Whether somebody sings or speaks, and nothing else sounds. A voice has one pitch that is never still: it glides from note
 * to note and wavers on each, where strings, reeds and keys hold theirs; and it swells as often as it falls, where struck
 * skins, whose pitch sinks as well, only fall.
 */
import { runToEnd, type Steps } from '../units/steps.ts';
import { windowPitch } from './pitch.ts';

/** Looks into the sound, each at two moments so far apart; not in order, so that the first ones tell of all of it. */
const LOOKS = 60;
const STRIDE = 23;
/** When so many have heard a sound and hardly any a pitch that can be sung, there is no voice. */
const ENOUGH_LOOKS = 16;
const HARDLY_ANY = 1;
const APART_SECONDS = 0.02;
const WINDOW_SECONDS = 0.046;
/** Below this there is nothing to look at, of full scale. */
const SILENT_RMS = 0.001;
const CLEAR = 0.85;
/** What can be sung, in MIDI notes: 73 to 880 Hz. */
const LOWEST_NOTE = 38;
const HIGHEST_NOTE = 81;
/** Further than this nobody glides within two looks, in semitones. */
const LONGEST_GLIDE = 2;
const FEWEST_LOOKS = 8;
/** The level falls where it is this share of what it was. */
const FALLS_BELOW = 0.99;
const STRETCH_SECONDS = 6;
/** What sounds for longer than this and has no pitch that can be sung is none of the voice. */
const LONGEST_UNVOICED_SECONDS = 1.2;
/** Beside that, its first and last sounds. */
const MARGIN_SECONDS = 0.25;

export interface VoiceSpan {
  startFrame: number;
  endFrame: number;
}

/** What a look has heard. */
interface Look {
  frame: number;
  isVoiced: boolean;
}

export interface VoiceSigns {
  /** Shares, 0..1: of the looks with a sound those with a pitch; of these those in the range of voices, and those whose level falls. */
  voiced: number;
  inRange: number;
  falling: number;
  /** By how much the pitch moves in the more restless quarter, in cents. */
  restlessCents: number;
  count: number;
  /** Those that heard a sound, in order. */
  looks: Look[];
}

/** Frames in which a pitch is looked for: a power of two. */
export function lookFrames(sampleRate: number): number {
  return 2 ** Math.round(Math.log2(WINDOW_SECONDS * sampleRate));
}

/** @param signal the mean of the channels */
export function voiceSigns(signal: Float32Array, sampleRate: number): VoiceSigns {
  const size = lookFrames(sampleRate);
  const apart = Math.round(APART_SECONDS * sampleRate);
  const room = signal.length - size - apart;
  const glides: number[] = [];
  const looks: Look[] = [];
  let [inRange, falling] = [0, 0];
  for (let look = 0; look < LOOKS && room > 0; look++) {
    if (looks.length >= ENOUGH_LOOKS && inRange <= HARDLY_ANY) break;
    const frame = Math.floor((room * (((look * STRIDE) % LOOKS) + 0.5)) / LOOKS);
    const level = rms(signal, frame, size);
    if (level < SILENT_RMS) continue;
    const heard = { frame, isVoiced: false };
    looks.push(heard);
    const first = windowPitch(signal, sampleRate, frame, size);
    if (first.clarity < CLEAR) continue;
    const second = windowPitch(signal, sampleRate, frame + apart, size);
    const glide = Math.abs(second.note - first.note);
    if (second.clarity < CLEAR || glide > LONGEST_GLIDE) continue;
    glides.push(100 * glide);
    heard.isVoiced = first.note >= LOWEST_NOTE && first.note <= HIGHEST_NOTE;
    if (heard.isVoiced) inRange++;
    if (rms(signal, frame + apart, size) < FALLS_BELOW * level) falling++;
  }
  glides.sort((a, b) => a - b);
  const count = glides.length;
  return {
    voiced: count / Math.max(1, looks.length),
    inRange: inRange / Math.max(1, count),
    falling: falling / Math.max(1, count),
    restlessCents: glides[Math.floor(0.75 * (count - 1))] ?? 0,
    count,
    looks: looks.sort((a, b) => a.frame - b.frame),
  };
}

/** What is asked of the signs, least or most. */
type Asked = Pick<VoiceSigns, 'voiced' | 'inRange' | 'falling' | 'restlessCents'>;
const OF_ALL: Asked = { voiced: 0.24, inRange: 0.9, falling: 0.75, restlessCents: 4.6 };
/** A stretch of what is a voice as a whole may be calmer, or whispered. */
const OF_A_STRETCH: Asked = { voiced: 0.12, inRange: 0.8, falling: 0.85, restlessCents: 2 };

/** Is it a voice, alone? Of silence and of what is too short for that nothing is known: no. */
export function isVoiceAlone(signal: Float32Array, sampleRate: number): boolean {
  return isAsked(voiceSigns(signal, sampleRate), OF_ALL);
}

function isAsked(signs: VoiceSigns, asked: Asked): boolean {
  return (
    signs.count >= FEWEST_LOOKS &&
    signs.voiced >= asked.voiced &&
    signs.inRange >= asked.inRange &&
    signs.restlessCents >= asked.restlessCents &&
    signs.falling <= asked.falling
  );
}

/** Where in a sound a voice is alone: stretches of some seconds each, for in a long recording others come after it. */
export function voiceSpans(signal: Float32Array, sampleRate: number): VoiceSpan[] {
  return runToEnd(voiceSteps(signal, sampleRate));
}

/** The same in steps that yield the share done. */
export function* voiceSteps(signal: Float32Array, sampleRate: number): Steps<VoiceSpan[]> {
  const count = Math.max(1, Math.round(signal.length / (STRETCH_SECONDS * sampleRate)));
  const edge = (place: number) => Math.round((place * signal.length) / count);
  const asked = count > 1 && isVoiceAlone(signal, sampleRate) ? OF_A_STRETCH : OF_ALL;
  const spans: VoiceSpan[] = [];
  for (let place = 0; place < count; place++) {
    if (place > 0) yield place / count;
    const from = edge(place);
    const signs = voiceSigns(signal.subarray(from, edge(place + 1)), sampleRate);
    if (!isAsked(signs, asked)) continue;
    for (const { startFrame, endFrame } of spansOf(signs.looks, edge(place + 1) - from, sampleRate))
      spans.push({ startFrame: from + startFrame, endFrame: from + endFrame });
  }
  return spans;
}

/** A stretch without what sounds in it for long and is no voice. */
function spansOf(looks: readonly Look[], frames: number, sampleRate: number): VoiceSpan[] {
  const longest = LONGEST_UNVOICED_SECONDS * sampleRate;
  const margin = Math.round(MARGIN_SECONDS * sampleRate);
  const spans: VoiceSpan[] = [];
  let startFrame = 0;
  let lastVoiced = 0;
  const close = (endFrame: number) => {
    if (endFrame > startFrame) spans.push({ startFrame, endFrame });
  };
  for (const { frame, isVoiced } of looks) {
    if (!isVoiced) continue;
    if (soundsFor(looks, lastVoiced, frame) > longest) {
      close(lastVoiced + margin);
      startFrame = Math.max(0, frame - margin);
    }
    lastVoiced = frame;
  }
  close(soundsFor(looks, lastVoiced, frames) > longest ? lastVoiced + margin : frames);
  return spans;
}

/** Frames from the first to the last look between two that heard something, 0 without. */
function soundsFor(looks: readonly Look[], fromFrame: number, toFrame: number): number {
  const between = looks.filter(({ frame }) => frame > fromFrame && frame < toFrame);
  return between.length > 0 ? between.at(-1)!.frame - between[0]!.frame : 0;
}

function rms(signal: Float32Array, from: number, count: number): number {
  let sum = 0;
  for (let i = from; i < from + count; i += 2) sum += signal[i]! ** 2;
  return Math.sqrt(sum / (count / 2));
}
