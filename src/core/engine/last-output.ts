/** The last minute of what went out, so that a happy accident can be had again. Made once. */
const SECONDS = 60;

export class LastOutput {
  private readonly left: Float32Array;
  private readonly right: Float32Array;
  private written = 0;

  constructor(sampleRate: number, seconds = SECONDS) {
    this.left = new Float32Array(Math.round(seconds * sampleRate));
    this.right = new Float32Array(this.left.length);
  }

  /** Takes the next frames; allocates nothing. */
  write(left: Float32Array, right: Float32Array): void {
    const size = this.left.length;
    for (let i = 0; i < left.length; i++) {
      const at = (this.written + i) % size;
      this.left[at] = left[i]!;
      this.right[at] = right[i]!;
    }
    this.written += left.length;
  }

  /** What there is of it, the oldest first. */
  read(): { left: Float32Array; right: Float32Array } {
    const size = this.left.length;
    const count = Math.min(this.written, size);
    const from = this.written - count;
    const ordered = (ring: Float32Array) => Float32Array.from({ length: count }, (_, i) => ring[(from + i) % size]!);
    return { left: ordered(this.left), right: ordered(this.right) };
  }
}

/** A little silence stays before the first sound. */
const BEFORE_SECONDS = 0.02;
const SILENCE = 1e-4;

/** From the first sound to the last; null for silence alone. */
export function withoutSilence(
  { left, right }: { left: Float32Array; right: Float32Array },
  sampleRate: number,
): { left: Float32Array; right: Float32Array } | null {
  const sounds = (i: number) => Math.abs(left[i]!) > SILENCE || Math.abs(right[i]!) > SILENCE;
  let from = 0;
  while (from < left.length && !sounds(from)) from++;
  if (from === left.length) return null;
  let to = left.length;
  while (!sounds(to - 1)) to--;
  from = Math.max(0, from - Math.round(BEFORE_SECONDS * sampleRate));
  return { left: left.subarray(from, to), right: right.subarray(from, to) };
}
