/** Which samples leave the memory when there is no room for all that nobody asks for any more. */

/**
 * What goes, the oldest first, until what is not needed takes no more room than it may.
 * @param sizes samples each takes, by id, the oldest first
 * @param isNeeded what stays whatever there is
 * @param mostSamples that what is not needed may take
 */
export function withoutRoom(
  sizes: ReadonlyMap<string, number>,
  isNeeded: (id: string) => boolean,
  mostSamples: number,
): string[] {
  const unneeded = [...sizes].filter(([id]) => !isNeeded(id));
  let samples = unneeded.reduce((sum, [, size]) => sum + size, 0);
  const gone: string[] = [];
  for (const [id, size] of unneeded) {
    if (samples <= mostSamples) break;
    samples -= size;
    gone.push(id);
  }
  return gone;
}

/** Samples of all channels. */
export function samplesOf({ channels }: { channels: readonly Float32Array[] }): number {
  return channels.reduce((sum, { length }) => sum + length, 0);
}
