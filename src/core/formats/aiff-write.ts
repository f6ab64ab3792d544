/**
 * Writes AIFF: 16 and 24-bit integers, markers with names, a loop and a root ("Audio Interchange File Format: AIFF", Apple
 * Computer, version 1.3, 1989: sections on the Common, Sound Data, Marker and Instrument Chunks).
 */
import { frameCount, type AudioData } from '../dsp/audio.ts';
import { bytesOfText } from './chunk-text.ts';
import { dithered16 } from './dither.ts';
import { id3Tag, type SoundFacts } from './sound-facts.ts';
import type { CuePoint, SamplerLoop } from './wav-read.ts';

export interface AiffWriteOptions {
  bitsPerSample: 16 | 24;
  cues?: readonly CuePoint[];
  loop?: SamplerLoop;
  facts?: SoundFacts;
}

/** A marker holds so many letters: its length stands in a byte. */
const MOST_LETTERS = 255;
const MIDDLE_C = 60;
const FORWARD = 1;

export function writeAiff(audio: AudioData, options: AiffWriteOptions): Uint8Array<ArrayBuffer> {
  const { cues = [], loop, facts = { tempoBpm: null, root: null } } = options;
  const tag = id3Tag(facts);
  // The loop's ends are markers, too.
  const ends: CuePoint[] = loop
    ? [
        { frame: loop.startFrame, label: 'loop starts' },
        { frame: loop.endFrame, label: 'loop ends' },
      ]
    : [];
  const chunks = [
    commonChunk(audio, options.bitsPerSample),
    soundChunk(audio, options.bitsPerSample),
    ...(cues.length + ends.length > 0 ? [markerChunk([...cues, ...ends])] : []),
    ...(loop || facts.root ? [instrumentChunk(facts, loop ? cues.length + 1 : null)] : []),
    ...(tag.length > 0 ? [chunk('ID3 ', tag)] : []),
  ];
  const size = 4 + chunks.reduce((sum, { length }) => sum + length, 0);
  const bytes = new Uint8Array(8 + size);
  bytes.set(bytesOfText('FORM'));
  new DataView(bytes.buffer).setUint32(4, size);
  bytes.set(bytesOfText('AIFF'), 8);
  let at = 12;
  for (const one of chunks) {
    bytes.set(one, at);
    at += one.length;
  }
  return bytes;
}

/** Of an even number of bytes, as all chunks are. */
function chunk(id: string, content: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(8 + content.length + (content.length & 1));
  bytes.set(bytesOfText(id));
  new DataView(bytes.buffer).setUint32(4, content.length);
  bytes.set(content, 8);
  return bytes;
}

function commonChunk(audio: AudioData, bitsPerSample: number): Uint8Array {
  const content = new Uint8Array(18);
  const view = new DataView(content.buffer);
  view.setInt16(0, audio.channels.length);
  view.setUint32(2, frameCount(audio));
  view.setInt16(6, bitsPerSample);
  content.set(extended(audio.sampleRate), 8);
  return chunk('COMM', content);
}

/** A number of 80 bits (IEEE 754, extended): sign and exponent, and 64 bits of which the first is 1. */
function extended(value: number): Uint8Array {
  const bytes = new Uint8Array(10);
  const view = new DataView(bytes.buffer);
  const exponent = Math.floor(Math.log2(value));
  view.setUint16(0, exponent + 16_383);
  const high = value * 2 ** (31 - exponent);
  view.setUint32(2, Math.floor(high));
  view.setUint32(6, Math.floor((high % 1) * 2 ** 32));
  return bytes;
}

function soundChunk(audio: AudioData, bitsPerSample: 16 | 24): Uint8Array {
  const { channels } = bitsPerSample === 16 ? dithered16(audio) : audio;
  const each = bitsPerSample / 8;
  const full = 2 ** (bitsPerSample - 1);
  const content = new Uint8Array(8 + frameCount(audio) * channels.length * each);
  const view = new DataView(content.buffer);
  let at = 8;
  for (let frame = 0; frame < frameCount(audio); frame++) {
    for (const channel of channels) {
      const value = Math.max(-full, Math.min(full - 1, Math.round(channel[frame]! * full)));
      if (each === 3) view.setInt8(at, value >> 16);
      if (each === 3) view.setUint16(at + 1, value & 0xffff);
      else view.setInt16(at, value);
      at += each;
    }
  }
  return chunk('SSND', content);
}

function markerChunk(cues: readonly CuePoint[]): Uint8Array {
  const markers = cues.map(({ frame, label }, index) => {
    const text = bytesOfText(label).subarray(0, MOST_LETTERS);
    // A count and its letters are an even number of bytes together.
    const bytes = new Uint8Array(6 + 1 + text.length + ((text.length + 1) & 1));
    const view = new DataView(bytes.buffer);
    view.setInt16(0, index + 1);
    view.setUint32(2, frame);
    bytes[6] = text.length;
    bytes.set(text, 7);
    return bytes;
  });
  const content = new Uint8Array(2 + markers.reduce((sum, { length }) => sum + length, 0));
  new DataView(content.buffer).setUint16(0, cues.length);
  let at = 2;
  for (const marker of markers) {
    content.set(marker, at);
    at += marker.length;
  }
  return chunk('MARK', content);
}

/** @param loopMarker number of the marker that the loop starts at; the next is its end. Null: none. */
function instrumentChunk({ root }: SoundFacts, loopMarker: number | null): Uint8Array {
  const content = new Uint8Array(20);
  const view = new DataView(content.buffer);
  view.setInt8(0, root?.key ?? MIDDLE_C);
  view.setInt8(1, Math.round(root?.cents ?? 0));
  // All keys, all strengths.
  view.setInt8(3, 127);
  view.setInt8(4, 1);
  view.setInt8(5, 127);
  if (loopMarker !== null) {
    view.setInt16(8, FORWARD);
    view.setInt16(10, loopMarker);
    view.setInt16(12, loopMarker + 1);
  }
  return chunk('INST', content);
}
