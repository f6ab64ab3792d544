/**
 * What lasts and what strikes, told apart by medians along time and along frequency: D. Fitzgerald, "Harmonic/percussive
 * separation using median filtering", DAFx 2010. To compare with: it knows nothing of drums.
 */
import { powersOf, type Spectrograph } from '#core/unmix/spectra.ts';

const SPAN = 17;

function median(values: number[]): number {
  return values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

/** @returns the darker half of it first */
export function medianFiltered(signal: Float32Array, spectrograph: Spectrograph): [Float32Array, Float32Array] {
  const spectra = spectrograph.analyse(signal);
  const { rows, bins } = spectra;
  const levels = powersOf(spectra).map(Math.sqrt);
  const half = Math.floor(SPAN / 2);
  const around = (row: number, bin: number, along: 'time' | 'frequency') => {
    const found: number[] = [];
    for (let step = -half; step <= half; step++) {
      const [r, b] = along === 'time' ? [row + step, bin] : [row, bin + step];
      if (r >= 0 && r < rows && b >= 0 && b < bins) found.push(levels[r * bins + b]!);
    }
    return median(found) ** 2;
  };
  const share = levels.map((_, i) => {
    const [row, bin] = [Math.floor(i / bins), i % bins];
    const lasting = around(row, bin, 'time');
    return lasting / (lasting + around(row, bin, 'frequency') + 1e-20);
  });
  const lasting = spectrograph.sound(
    {
      ...spectra,
      re: spectra.re.map((value, i) => value * share[i]!),
      im: spectra.im.map((value, i) => value * share[i]!),
    },
    signal.length,
  );
  return [lasting, signal.map((value, i) => value - lasting[i]!)];
}
