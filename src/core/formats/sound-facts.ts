/**
 * What a file says of its sound beside its samples: tempo and root. Written as frames of ID3v2.3 ("ID3 tag version 2.3.0",
 * 1999, sections 3.1 to 4.2), which stand in a chunk of their own in WAV (`id3 `) and AIFF (`ID3 `).
 */
import { noteName } from '../units/pitch.ts';
import { bytesOfText } from './chunk-text.ts';

export interface SoundFacts {
  tempoBpm: number | null;
  /** Key of the keyboard that it sounds at its own pitch on, and how far it is off, in cents (-50..50). */
  root: { key: number; cents: number } | null;
}

const HEAD_BYTES = 10;

/** A frame of text in ISO 8859-1. */
function textFrame(id: string, text: string): Uint8Array {
  const words = bytesOfText(text);
  const frame = new Uint8Array(HEAD_BYTES + 1 + words.length);
  frame.set(bytesOfText(id));
  new DataView(frame.buffer).setUint32(4, 1 + words.length);
  frame.set(words, HEAD_BYTES + 1);
  return frame;
}

/** A frame of text that is called something. */
const namedFrame = (name: string, text: string) => textFrame('TXXX', `${name}\0${text}`);

/** The whole tag; empty where there is nothing to say. A tempo that is no whole number stands beside the rounded one. */
export function id3Tag({ tempoBpm, root }: SoundFacts): Uint8Array {
  const frames = [
    ...(tempoBpm === null ? [] : [textFrame('TBPM', String(Math.round(tempoBpm)))]),
    ...(root
      ? [
          textFrame(
            'TKEY',
            noteName(root.key)
              .replace('♯', '#')
              .replace(/-?\d+$/, ''),
          ),
        ]
      : []),
    ...(tempoBpm === null ? [] : [namedFrame('tempo', tempoBpm.toFixed(4))]),
  ];
  if (frames.length === 0) return new Uint8Array();
  const size = frames.reduce((sum, { length }) => sum + length, 0);
  const tag = new Uint8Array(HEAD_BYTES + size);
  tag.set(bytesOfText('ID3'));
  tag[3] = 3;
  // Seven bits a byte.
  for (let place = 0; place < 4; place++) tag[6 + place] = (size >> (7 * (3 - place))) & 0x7f;
  let at = HEAD_BYTES;
  for (const frame of frames) {
    tag.set(frame, at);
    at += frame.length;
  }
  return tag;
}
