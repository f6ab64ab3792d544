/** How layers look: the darker one blue, the brighter one sand, wherever they are drawn. */
import { brightnessColour, NIGHT_LIFT } from '../../canvas/palette.ts';
import { themeName } from '../../theme/theme.ts';

const STRETCHES = 60;
const DARKER = 0.25;
const BRIGHTER = 1;

/** @param isUpper the brighter one of two */
export function layerColour(isUpper: boolean): string {
  return brightnessColour(isUpper ? BRIGHTER : DARKER, themeName.value === 'dark' ? NIGHT_LIFT : 0);
}

/** Peaks of a sound in equal stretches. */
export function stretchPeaks(channels: readonly Float32Array[], count = STRETCHES): number[] {
  const frames = channels[0]?.length ?? 0;
  return Array.from({ length: count }, (_, i) => {
    const [from, to] = [Math.floor((i * frames) / count), Math.floor(((i + 1) * frames) / count)];
    let peak = 0;
    for (const samples of channels) for (let at = from; at < to; at++) peak = Math.max(peak, Math.abs(samples[at]!));
    return peak;
  });
}
