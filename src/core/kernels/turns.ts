/** The table that the kernels' Fourier transform turns by. */
import { kernels } from './kernels.ts';

let isFilled = false;

/** Fills it once: `cos` and `-sin` of one turn. */
export function fillTurns(): void {
  if (isFilled) return;
  const kernel = kernels();
  const size = kernel.value('SPECTRUM_SIZE');
  const turns = kernel.doubles('spectrumTurns', 2 * size);
  for (let k = 0; k < size; k++) {
    turns[2 * k] = Math.cos((2 * Math.PI * k) / size);
    turns[2 * k + 1] = -Math.sin((2 * Math.PI * k) / size);
  }
  isFilled = true;
}
