/**
 * Words in files whose formats say "ASCII" or nothing at all: written as UTF-8, of which ASCII is a part; read as UTF-8 where
 * they are, else letter by letter as ISO 8859-1.
 */

export function textOfBytes(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
  }
}

export function bytesOfText(text: string): Uint8Array {
  return new TextEncoder().encode(text);
}
