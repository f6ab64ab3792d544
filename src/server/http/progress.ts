/** A body that stands still holds a place: it has to make progress. */
import { AppError } from '#core/units/errors.ts';

export interface Pace {
  /** Longest pause between two pieces, in milliseconds. */
  idleMs: number;
  /** Bytes a second on the whole, looked at once `idleMs` have passed. */
  bytesPerSecond: number;
}

/** @throws AppError `upload.slow` from the iteration */
export async function* atPace(pieces: AsyncIterable<Buffer>, { idleMs, bytesPerSecond }: Pace): AsyncGenerator<Buffer> {
  const iterator = pieces[Symbol.asyncIterator]();
  const beganAt = performance.now();
  let bytes = 0;
  for (;;) {
    const next = await within(iterator.next(), idleMs);
    if (next.done) return;
    bytes += next.value.length;
    const elapsedMs = performance.now() - beganAt;
    if (elapsedMs > idleMs && bytes < (elapsedMs / 1000) * bytesPerSecond) throw tooSlow();
    yield next.value;
  }
}

async function within<T>(promise: Promise<T>, ms: number): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(() => reject(tooSlow()), ms);
  });
  try {
    return await Promise.race([promise, late]);
  } finally {
    clearTimeout(timer);
  }
}

function tooSlow(): AppError {
  return new AppError('upload.slow', 'the audio did not arrive');
}
