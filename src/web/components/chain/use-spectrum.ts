/** The live spectrum before and after an effect, as lines of a picture: the engine is asked for it while it is looked at. */
import { onBeforeUnmount, onMounted, watch } from 'vue';
import { PowerSpectrum } from '#core/dsp/fft.ts';
import { WATCHED_FRAMES, type Watched } from '#core/engine/mix/signal-watch.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { engine } from '../../audio/services.ts';

/** Places along the frequencies, from 20 Hz to 20 kHz. */
const PLACES = 96;
const LOWEST_HZ = 20;
const SPAN = 1000;
/** What is seen, in dB below a full sine; it falls by so much from look to look. */
const FLOOR_DB = -84;
const FALL_DB = 2.5;
/** Music falls with frequency: leaning against that, all of it is seen (common practice). In dB an octave, around 1 kHz. */
const LEAN_DB = 3;

const hzAt = (place: number) => LOWEST_HZ * SPAN ** (place / PLACES);

export class SpectrumLine {
  /** 0 the floor, 1 full. */
  readonly heights = new Float32Array(PLACES + 1);
  private readonly levelsDb = new Float32Array(PLACES + 1).fill(FLOOR_DB);

  /** @param power of the bins, of a Hann window */
  take(power: Float32Array): void {
    const binHz = ENGINE_SAMPLE_RATE / WATCHED_FRAMES;
    for (let place = 0; place <= PLACES; place++) {
      const from = Math.max(1, Math.round(hzAt(place - 0.5) / binHz));
      const to = Math.min(power.length - 1, Math.max(from, Math.round(hzAt(place + 0.5) / binHz) - 1));
      let most = 0;
      for (let bin = from; bin <= to; bin++) most = Math.max(most, power[bin]!);
      // A full sine is a quarter of the window's length high.
      const levelDb = 10 * Math.log10(most / (WATCHED_FRAMES / 4) ** 2 + 1e-12);
      const leaning = levelDb + LEAN_DB * Math.log2(hzAt(place) / 1000);
      this.levelsDb[place] = Math.max(leaning, this.levelsDb[place]! - FALL_DB, FLOOR_DB);
      this.heights[place] = Math.min(1, 1 - this.levelsDb[place]! / FLOOR_DB);
    }
  }

  /** Falls to the floor. @returns false when it lies there */
  fall(): boolean {
    let isAbove = false;
    for (let place = 0; place <= PLACES; place++) {
      this.levelsDb[place] = Math.max(FLOOR_DB, this.levelsDb[place]! - FALL_DB);
      this.heights[place] = Math.min(1, 1 - this.levelsDb[place]! / FLOOR_DB);
      isAbove ||= this.levelsDb[place]! > FLOOR_DB;
    }
    return isAbove;
  }
}

/** Points of an SVG line across a box. */
export function pointsOf({ heights }: SpectrumLine, width: number, height: number): string {
  return Array.from(
    heights,
    (tall, place) => `${((place / PLACES) * width).toFixed(1)},${((1 - tall) * height).toFixed(1)}`,
  ).join(' ');
}

/** @param onSeen the lines are others now */
export function useSpectrum(
  effectId: () => string,
  onSeen: (lines: { before: SpectrumLine; after: SpectrumLine }) => void,
): void {
  const spectrum = new PowerSpectrum(WATCHED_FRAMES);
  const power = new Float32Array(spectrum.binCount);
  let lines = { before: new SpectrumLine(), after: new SpectrumLine() };
  let isLow = true;
  let stop = () => {};

  function take(watched: Watched): void {
    spectrum.measure(watched.before, 0, power);
    lines.before.take(power);
    spectrum.measure(watched.after, 0, power);
    lines.after.take(power);
    isLow = false;
    onSeen(lines);
  }

  onMounted(() => {
    engine.send({ type: 'watch', effectId: effectId() });
    stop = engine.onStatus(({ mix: { watched }, playing, sounding }) => {
      if (watched?.effectId === effectId()) take(watched);
      else if (!isLow && !playing && sounding.length === 0) {
        // Both: one may lie there before the other.
        const [before, after] = [lines.before.fall(), lines.after.fall()];
        isLow = !before && !after;
        onSeen(lines);
      }
    });
  });
  watch(effectId, (id) => {
    lines = { before: new SpectrumLine(), after: new SpectrumLine() };
    onSeen(lines);
    engine.send({ type: 'watch', effectId: id });
  });
  onBeforeUnmount(() => {
    stop();
    engine.send({ type: 'watch', effectId: null });
  });
}
