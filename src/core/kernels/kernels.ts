/**
 * The innermost loops, as WebAssembly with four numbers a step: the same bits in a worklet, a worker and Node, and fast
 * from the first call on. The sources are in `assembly/` (AssemblyScript); the memory has a fixed size, so that views of
 * it stay valid.
 */
import { KERNELS_BASE64 } from './kernels-wasm.ts';

/** Names of the places in memory and the functions: see the sources of the same names. */
interface KernelExports {
  memory: { buffer: ArrayBuffer };
  readSinc(
    table: number,
    start: number,
    step: number,
    base: number,
    from: number,
    to: number,
    stereo: boolean,
    reach: number,
    phases: number,
  ): number;
  runFourBands(samples: number, hopFrames: number, hops: number): void;
  runMeans(count: number, span: number): void;
  thinToQuarter(samples: number, out: number, count: number): void;
  measureBandRises(
    hops: number,
    shortAfter: number,
    shortBefore: number,
    longAfter: number,
    longBefore: number,
    floor: number,
    shortShare: number,
    leastDb: number,
  ): void;
  resampleRun(
    first: number,
    increment: number,
    count: number,
    base: number,
    rows: number,
    taps: number,
    before: number,
  ): void;
  sumEarRows(rows: number): void;
  oversample(count: number): void;
  undersample(count: number): void;
  bendSoft(count: number, aside: number, slope: number): void;
  bendHard(count: number, knee: number, sumAtKnee: number): void;
  runNetwork(count: number, damping: number, level: number): void;
  loadPair(size: number, first: number, last: number, gain: number, lane: number): void;
  measurePair(size: number): void;
  fourierTransform(from: number, to: number, work: number, size: number): void;
  measureVocoderPowers(size: number): void;
  makeVocoderFrame(size: number, isFirst: boolean, isStraight: boolean): void;
}

export interface Kernels extends Omit<KernelExports, 'memory'> {
  /** A named number: a size, or the byte offset of a place. */
  value(name: string): number;
  /** Views of a named place. */
  floats(name: string, length: number): Float32Array;
  doubles(name: string, length: number): Float64Array;
  bytes(name: string, length: number): Uint8Array;
}

let instance: Kernels | undefined;

/** The kernels; compiled at the first call (about 11 kB), then shared by all that runs on this thread. */
export function kernels(): Kernels {
  return (instance ??= instantiate());
}

function instantiate(): Kernels {
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(fromBase64(KERNELS_BASE64)), {});
  const { memory, ...functions } = exports as unknown as KernelExports;
  const value = (name: string): number => {
    const named = exports[name] as { value?: unknown } | undefined;
    if (typeof named?.value !== 'number') throw new RangeError(`the kernels have no number "${name}"`);
    return named.value;
  };
  return {
    ...functions,
    value,
    floats: (name, length) => new Float32Array(memory.buffer, value(name), length),
    doubles: (name, length) => new Float64Array(memory.buffer, value(name), length),
    bytes: (name, length) => new Uint8Array(memory.buffer, value(name), length),
  };
}

/** Worklets have no `atob` (RFC 4648, section 4). */
function fromBase64(text: string): Uint8Array<ArrayBuffer> {
  const valueOf = new Uint8Array(128);
  [...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'].forEach((digit, value) => {
    valueOf[digit.charCodeAt(0)] = value;
  });
  const digits = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((digits.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (let i = 0; i < digits.length; i++) {
    bits = ((bits << 6) | valueOf[digits.charCodeAt(i)]!) & 0xffff;
    held += 6;
    if (held < 8) continue;
    held -= 8;
    bytes[at++] = (bits >> held) & 0xff;
  }
  return bytes;
}
