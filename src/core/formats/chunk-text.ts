/**
 * Words in files whose formats say "ASCII" or nothing at all: written as UTF-8, of which ASCII is a part; read as UTF-8 where
 * they are, else letter by letter as ISO 8859-1.
 */
import { strFromU8, strToU8 } from 'fflate';

/** What stands where bytes are no UTF-8. */
const NO_LETTER = '\uFFFD';

export function textOfBytes(bytes: Uint8Array): string {
  const text = strFromU8(bytes);
  return text.includes(NO_LETTER) ? Array.from(bytes, (byte) => String.fromCharCode(byte)).join('') : text;
}

export function bytesOfText(text: string): Uint8Array {
  return strToU8(text);
}
