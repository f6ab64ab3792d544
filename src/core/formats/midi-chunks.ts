/**
 * A Standard MIDI File reduced to the chunks that are of it: others may stand between them and are to be passed over
 * ("Standard MIDI Files 1.0"); or all of it stands in a RIFF file of the form RMID ("RIFF MIDI File Format", MIDI
 * Manufacturers Association RP-029).
 */

const nameAt = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

/** The header and the tracks, one after another; what is no such file at all stays as it is. */
export function plainMidi(bytes: Uint8Array): Uint8Array {
  const file = nameAt(bytes, 0) === 'RIFF' && nameAt(bytes, 8) === 'RMID' ? insideRiff(bytes) : bytes;
  if (nameAt(file, 0) !== 'MThd') return file;
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const kept: Uint8Array[] = [];
  for (let at = 0; at + 8 <= file.length;) {
    const size = 8 + view.getUint32(at + 4);
    const name = nameAt(file, at);
    if (name === 'MThd' || name === 'MTrk') kept.push(file.subarray(at, Math.min(file.length, at + size)));
    at += size;
  }
  const out = new Uint8Array(kept.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const chunk of kept) {
    out.set(chunk, at);
    at += chunk.length;
  }
  return out;
}

function insideRiff(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, true);
    if (nameAt(bytes, at) === 'data') return bytes.subarray(at + 8, at + 8 + size);
    at += 8 + size + (size & 1);
  }
  return bytes;
}
