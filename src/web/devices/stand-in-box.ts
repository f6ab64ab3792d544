/**
 * A drum box that is not there: eight sounds of its own, a noise floor, a level. What it plays goes the way of an input, and
 * is heard.
 */
import { BOX_SOUNDS, boxNoise, boxSound, type BoxSound } from '#core/capture/stand-in-sounds.ts';
import { dbToGain } from '#core/units/level.ts';

const NOISE_SECONDS = 4;

export class StandInBox {
  /** What it gives: led to an input, and to the loudspeaker. */
  readonly output: GainNode;
  private readonly level: GainNode;
  private readonly floor: GainNode;
  private readonly noise: AudioBufferSourceNode;
  private readonly sounds: ReadonlyMap<BoxSound, AudioBuffer>;

  constructor(private readonly context: AudioContext) {
    const bufferOf = (samples: Float32Array<ArrayBuffer>) => {
      const buffer = context.createBuffer(1, samples.length, context.sampleRate);
      buffer.copyToChannel(samples, 0);
      return buffer;
    };
    this.sounds = new Map(BOX_SOUNDS.map((name) => [name, bufferOf(boxSound(name, context.sampleRate))]));
    const noise = boxNoise(NOISE_SECONDS * context.sampleRate);
    this.output = context.createGain();
    this.level = context.createGain();
    this.floor = context.createGain();
    // Silent until it is told how loud it is: nobody opens an input with a bang.
    this.floor.gain.value = this.level.gain.value = 0;
    this.noise = context.createBufferSource();
    this.noise.buffer = bufferOf(noise);
    this.noise.loop = true;
    this.noise.connect(this.floor).connect(this.output);
    this.level.connect(this.output);
    this.noise.start();
  }

  /** @param levelDb of its noise, as a mean square */
  setFloor(levelDb: number): void {
    // Even noise between -1 and 1 has a mean square of a third.
    this.floor.gain.value = dbToGain(levelDb) * Math.sqrt(3);
  }

  setLevel(levelDb: number): void {
    this.level.gain.value = dbToGain(levelDb);
  }

  /** @param strength 0..1 */
  strike(sound: BoxSound, strength: number): void {
    const source = this.context.createBufferSource();
    const gain = this.context.createGain();
    source.buffer = this.sounds.get(sound)!;
    gain.gain.value = strength * strength;
    source.connect(gain).connect(this.level);
    source.start();
  }

  close(): void {
    this.noise.stop();
    this.output.disconnect();
  }
}
