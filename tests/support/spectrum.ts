/** Spectra for tests: a four-term window whose side lobes lie below -92 dB, so that what stands out is really there. */
import FFT from 'fft.js';

/**
 * Levels of the partials of a signal in dB, full scale 0, by frequency.
 * @param from first sample; as many as the size are taken, a power of two
 */
export function partialsDb(
  samples: Float32Array,
  sampleRate: number,
  from: number,
  size: number,
): (hz: number) => number {
  const fft = new FFT(size);
  // Blackman-Harris (F. J. Harris, Proc. IEEE 66, 1978, table I).
  const window = (i: number) => {
    const w = (2 * Math.PI * i) / size;
    return 0.35875 - 0.48829 * Math.cos(w) + 0.14128 * Math.cos(2 * w) - 0.01168 * Math.cos(3 * w);
  };
  const input = Array.from({ length: size }, (_, i) => (samples[from + i] ?? 0) * window(i));
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, input);
  const gain = 2 / (0.35875 * size);
  return (hz) => {
    const bin = Math.round((hz * size) / sampleRate);
    return 20 * Math.log10(Math.max(1e-12, gain * Math.hypot(out[2 * bin]!, out[2 * bin + 1]!)));
  };
}

/** The loudest partial further away than `awayHz` from all of the tones, in dB. */
export function loudestBeside(
  samples: Float32Array,
  sampleRate: number,
  from: number,
  size: number,
  tonesHz: readonly number[],
  awayHz: number,
): number {
  const level = partialsDb(samples, sampleRate, from, size);
  let most = -240;
  for (let bin = 1; bin < size / 2; bin++) {
    const hz = (bin * sampleRate) / size;
    if (tonesHz.some((tone) => Math.abs(hz - tone) < awayHz)) continue;
    most = Math.max(most, level(hz));
  }
  return most;
}
