/** Pieces of sound, one after another. */
export function joined(pieces: readonly Float32Array[]): Float32Array<ArrayBuffer> {
  const all = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    all.set(piece, at);
    at += piece.length;
  }
  return all;
}
