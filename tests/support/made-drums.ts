/** Drums made by arithmetic, to judge on other sounds than those that were learned from. */
import { seededRandom } from '#core/units/random.ts';
import { highPass, lowPass, filterInto } from '#core/dsp/biquad.ts';

export const RATE = 44_100;
export type MadeRole = 'kick' | 'snare' | 'closed hat';

/** What a drum is, however it is struck. */
export interface MadeDrum {
  role: MadeRole;
  seed: number;
}

function noise(frames: number, random: () => number): Float32Array {
  return Float32Array.from({ length: frames }, () => 2 * random() - 1);
}

function filtered(signal: Float32Array, ...sections: ReturnType<typeof highPass>[]): Float32Array {
  const out = signal.slice();
  for (const section of sections) filterInto(section, out.slice(), out);
  return out;
}

/** One stroke. @param stroke strikes of one number are the same; of another they differ in strength and in their noise */
export function strike({ role, seed }: MadeDrum, stroke: number, seconds = 0.5): Float32Array {
  const random = seededRandom(seed);
  const own = seededRandom(1000 * seed + stroke + 1);
  const frames = Math.round(seconds * RATE);
  const strength = 0.5 + 0.5 * own();
  const time = (i: number) => i / RATE;
  if (role === 'kick') {
    const [base, sweep, fall, length] = [
      42 + 25 * random(),
      60 + 160 * random(),
      0.012 + 0.03 * random(),
      0.09 + 0.2 * random(),
    ];
    const click = filtered(noise(frames, own), lowPass(1500 + 4500 * random() * strength, 0.7, RATE));
    const clickLevel = 0.1 + 0.25 * random();
    let phase = 0;
    return Float32Array.from({ length: frames }, (_, i) => {
      phase += (2 * Math.PI * (base + sweep * Math.exp(-time(i) / fall))) / RATE;
      const body = Math.sin(phase) * Math.exp(-time(i) / length);
      return strength * (body + clickLevel * click[i]! * Math.exp(-time(i) / 0.004));
    });
  }
  if (role === 'snare') {
    const [tone, toneLength, rattle, share] = [
      150 + 90 * random(),
      0.03 + 0.07 * random(),
      0.06 + 0.12 * random(),
      0.35 + 0.4 * random(),
    ];
    const wires = filtered(
      noise(frames, own),
      highPass(700 + 900 * random(), 0.7, RATE),
      lowPass(6000 + 6000 * strength, 0.7, RATE),
    );
    return Float32Array.from({ length: frames }, (_, i) => {
      const body = Math.sin(2 * Math.PI * tone * time(i)) + 0.5 * Math.sin(2 * Math.PI * tone * 1.59 * time(i));
      return (
        strength *
        ((1 - share) * body * Math.exp(-time(i) / toneLength) + share * 1.5 * wires[i]! * Math.exp(-time(i) / rattle))
      );
    });
  }
  const edge = 5500 + 3500 * random();
  const length = 0.02 + 0.06 * random();
  const partials = Array.from({ length: 6 }, () => 2500 + 7000 * random());
  const metal = Float32Array.from(
    { length: frames },
    (_, i) => partials.reduce((sum, hz) => sum + Math.sign(Math.sin(2 * Math.PI * hz * time(i))), 0) / 6,
  );
  const air = noise(frames, own);
  const mixed = metal.map((value, i) => 0.5 * value + 0.6 * air[i]!);
  const bright = filtered(mixed, highPass(edge, 0.7, RATE), highPass(edge, 0.7, RATE));
  return bright.map((value, i) => strength * value * Math.exp(-time(i) / length));
}
