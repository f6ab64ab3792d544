/** A voice made by arithmetic: partials under formants that stay, at a pitch that goes as it is told. */
import { midiToHz } from '#core/units/pitch.ts';

export const VOICE_RATE = 44_100;
const FORMANTS_HZ = [700, 1200, 2600];
const WIDTH_HZ = 160;

/** @param noteAt MIDI note, fractions too, at a moment in seconds */
export function voice(noteAt: (seconds: number) => number, seconds: number): Float32Array {
  const frames = Math.round(seconds * VOICE_RATE);
  let turns = 0;
  return Float32Array.from({ length: frames }, (_, i) => {
    const hz = midiToHz(noteAt(i / VOICE_RATE));
    turns += hz / VOICE_RATE;
    let value = 0;
    for (let partial = 1; partial * hz < 9000; partial++) {
      const level = FORMANTS_HZ.reduce(
        (sum, formant) => sum + Math.exp(-(((partial * hz - formant) / WIDTH_HZ) ** 2)),
        0.02,
      );
      value += (level / Math.sqrt(partial)) * Math.sin(2 * Math.PI * partial * turns);
    }
    return 0.2 * value * Math.min(1, i / 1000, (frames - i) / 2000);
  });
}
