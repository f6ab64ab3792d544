/** Bytes as text of 64 letters (RFC 4648, section 4). */

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUES = new Uint8Array(128);
for (const [value, letter] of [...LETTERS].entries()) VALUES[letter.charCodeAt(0)] = value;

export function bytesOfBase64(text: string): Uint8Array<ArrayBuffer> {
  const letters = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((letters.length * 3) / 4));
  let bits = 0;
  let count = 0;
  let at = 0;
  for (let i = 0; i < letters.length; i++) {
    bits = (bits << 6) | VALUES[letters.charCodeAt(i)]!;
    count += 6;
    if (count < 8) continue;
    count -= 8;
    bytes[at++] = (bits >> count) & 0xff;
  }
  return bytes;
}

export function base64Of(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let at = 0; at < bytes.length; at += 3) {
    const [a, b, c] = [bytes[at]!, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0];
    const left = bytes.length - at;
    parts.push(
      LETTERS[a >> 2]! +
        LETTERS[((a & 3) << 4) | (b >> 4)]! +
        (left > 1 ? LETTERS[((b & 15) << 2) | (c >> 6)]! : '=') +
        (left > 2 ? LETTERS[c & 63]! : '='),
    );
  }
  return parts.join('');
}
