/**
 * Loops with known tempi: grooves of many kinds, as they are commonly played, drawn anew each time and played by drums of
 * one kit, or by notes and chords. Trimmed, or with what lies around loops in files.
 */
import { seededRandom, type Random } from '#core/units/random.ts';

export const RATE = 44_100;

export type Voice = 'kick' | 'snare' | 'hat' | 'open' | 'tom' | 'percussion' | 'note' | 'chord';
/** Strikes of one kit: where the kit has nothing of the kind, null. */
export type Kit = (voice: Voice, random: Random) => Float32Array | null;

/**
 * A way to play: in each row lines of one bar, of which each bar draws one. A digit is a stroke, 9 the hardest; 16 places
 * a bar of four, 12 where it goes in triplets, or in three quarters.
 */
interface Style {
  name: string;
  bpm: readonly [slowest: number, fastest: number];
  /** Share of an eighth at which the off-beat sixteenth lies, in percent. */
  swing?: readonly [least: number, most: number];
  beats?: number;
  rows: Partial<Record<Voice, readonly string[]>>;
}

// prettier-ignore
export const STYLES: readonly Style[] = [
  { name: 'rock', bpm: [84, 148], rows: { kick: ['9.....9.9.......', '9.......9.9.....', '9.....9...9.....'], snare: ['....9.......9...'], hat: ['6.5.6.5.6.5.6.5.'] } },
  { name: 'straight sixteenths', bpm: [78, 112], rows: { kick: ['9......69.9.....', '9..9......9..9..'], snare: ['....9.......9...', '....9..3.3..9...'], hat: ['6353635363536353', '6.53635363536.53'] } },
  { name: 'busy', bpm: [92, 118], swing: [50, 56], rows: { kick: ['9.9.......9..9..', '9.....9.9.....9.'], snare: ['....9..3.3..9..3', '....9..3.3.39...'], hat: ['6.5.6.5.6.5.6.5.', '6353635363536353'] } },
  { name: 'laid back', bpm: [74, 98], swing: [54, 66], rows: { kick: ['9......9..9.....', '9..9....9.......', '9.....9..99.....'], snare: ['....9.......9...', '....9.......9..4'], hat: ['6.5.6.5.6.5.6.5.', '6.5.6.5.6.536.5.'] } },
  { name: 'four on the floor', bpm: [114, 134], rows: { kick: ['9...9...9...9...'], snare: ['....7.......7...', '................'], hat: ['..7...7...7...7.', '3.7.3.7.3.7.3.73'], open: ['..6...6...6...6.', '................'] } },
  { name: 'broken', bpm: [124, 138], swing: [50, 60], rows: { kick: ['9.........9.....', '9..9......9..9..'], snare: ['....9.......9...'], hat: ['..6...6...6...66', '6.5.6.5.6.5.6.5.'] } },
  { name: 'fast break', bpm: [160, 178], rows: { kick: ['9.9.......99....', '9.........9.....', '9.9.......9..9..'], snare: ['....9..3.3..9...', '....9.......9..4'], hat: ['6.5.6.5.6.5.6.5.', '5.5.5.5.5.5.5.5.'] } },
  { name: 'half time', bpm: [132, 152], rows: { kick: ['9.....9.........', '9.........9.....', '9..9............'], snare: ['........9.......'], hat: ['6.5.6.5.6.5.6.5.', '6.5.635.6.5.6.55'] } },
  { name: 'slow', bpm: [60, 76], rows: { kick: ['9.......9.9.....', '9.....6.9.......'], snare: ['....9.......9...'], hat: ['6.5.6.5.6.5.6.5.', '6353635363536353'] } },
  { name: 'quarters', bpm: [88, 132], rows: { kick: ['9.......9.......'], snare: ['....9.......9...'], hat: ['6...5...6...5...', '................'] } },
  { name: 'ride', bpm: [110, 168], swing: [62, 68], rows: { kick: ['6.......6.......', '6..............5'], snare: ['....5.......5..3', '...........4....'], open: ['7...7..57...7..5', '7...7..57..57..5'] } },
  { name: 'shuffle', bpm: [84, 136], rows: { kick: ['9.....9..9..', '9.....9.....'], snare: ['...9.....9..'], hat: ['6.56.56.56.5'] } },
  { name: 'three quarters', bpm: [84, 140], beats: 3, rows: { kick: ['9...........', '9.....5.....'], snare: ['....7...7...'], hat: ['6.5.6.5.6.5.', '6...5...5...'] } },
  { name: 'marched', bpm: [96, 124], rows: { kick: ['9.......9.......'], snare: ['9.334.339.334.33', '9.3.9.339.3.9333'], hat: ['................'] } },
  { name: 'toms', bpm: [88, 128], rows: { kick: ['9.......9.......', '9...9...9...9...'], tom: ['..6.7..6..6.7..6', '7..7..7.7..7..7.'], snare: ['............8...', '................'] } },
  { name: 'hand drums', bpm: [88, 124], swing: [50, 58], rows: { percussion: ['9.5.6.5597.5.655', '7.64.6.47.64.674', '9..6..9..6..9.6.'] , hat: ['6.3.6.3.6.3.6.3.', '................'] } },
  { name: 'dembow', bpm: [86, 104], rows: { kick: ['9...9...9...9...'], snare: ['...8..8....8..8.', '...8..8....8..7.'], hat: ['................', '6.5.6.5.6.5.6.5.'] } },
  { name: 'skipping', bpm: [126, 138], swing: [54, 62], rows: { kick: ['9.........9.....', '9......9..9.....'], snare: ['....9.......9..3', '....9..3....9...'], hat: ['..6..5.6..6..5.6', '6.65.56.6.65.56.'] } },
  { name: 'eighth notes', bpm: [84, 132], rows: { note: ['9.6.7.6.8.6.7.6.', '9.6.7...8.6.7.6.', '9..7..7.9..7..7.'] } },
  { name: 'sixteenth notes', bpm: [80, 118], rows: { note: ['9.767.67.7679.67', '97.6.76.97.6.76.'] } },
  { name: 'chords', bpm: [72, 128], rows: { chord: ['9.......8.......', '9...............', '9.....8.....8...'] } },
  { name: 'stabs', bpm: [88, 126], rows: { chord: ['9..7..7...7.....', '..8...8...8...8.'], kick: ['9...9...9...9...', '................'] } },
];

/** In fives and sevens: nothing is learned from these. */
// prettier-ignore
export const ODD_STYLES: readonly Style[] = [
  { name: 'seven eighths', bpm: [80, 165], beats: 3.5, rows: { kick: ['9.....9.......', '9...9.....9...', '9.......9.9...'], snare: ['....9.....9...', '....9.....9..3', '......9.......'], hat: ['6.5.6.5.6.5.6.', '6...6...6...6.'] } },
  { name: 'five quarters', bpm: [84, 160], beats: 5, rows: { kick: ['9.....9.....9.......', '9.......9...9.......'], snare: ['........8.......8...', '....8...........8..3'], hat: ['6.5.6.5.6.5.6.5.6.5.', '6...6...6...6...6...'] } },
  { name: 'seven notes', bpm: [84, 140], beats: 3.5, rows: { note: ['9.6.7.8.6.7.6.', '9.6.7.8...7.6.'] } },
  { name: 'five notes', bpm: [84, 140], beats: 5, rows: { note: ['9.6.7.8.6.7.9.6.7.6.', '9...7...8.6.9...7...'] } },
];

export interface MadeLoop {
  style: string;
  samples: Float32Array;
  bpm: number;
  bars: number;
  beatsPerBar: number;
  /** Where the loop begins in its file. */
  startFrame: number;
  isTrimmed: boolean;
  /** Where strokes begin, in order. */
  strokes: { frame: number; voice: Voice; level: number }[];
}

export const between = ([low, high]: readonly [number, number], random: Random) => low + random() * (high - low);
export const oneOf = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)]!;

function lay(into: Float32Array, sound: Float32Array, at: number, gain: number, fold: number): void {
  for (let i = 0; i < sound.length; i++) {
    // What rings over the end of a trimmed loop rings into its beginning, or is cut off there.
    const place = fold > 0 ? (at + i) % fold : at + i;
    if (place >= into.length) return;
    into[place]! += sound[i]! * gain;
  }
}

/** Some players come in before the bar: the share of untrimmed loops, and their own draws. */
const PICKUP_SHARE = 0.15;
const PICKUP_SEED = 700_000;

/** How many places of the bar before the loop are played, as far as there is room for them. */
function pickupPlaces(random: Random, before: number, stepFrames: number): number {
  const room = Math.floor(before / stepFrames - 0.5);
  return room > 0 && random() < PICKUP_SHARE ? Math.min(room, oneOf([1, 2, 2, 3, 4], random)) : 0;
}

/** One loop of a style. @param wrapped what rings over its end is at its beginning, as where a player went on */
export function makeLoop(style: Style, kit: Kit, seed: number, untrimmed: boolean): MadeLoop {
  const random = seededRandom(seed);
  const beats = style.beats ?? 4;
  const bpm =
    random() < 0.5 ? Math.round(between(style.bpm, random)) : Math.round(between(style.bpm, random) * 10) / 10;
  const bars = oneOf([1, 2, 2, 2, 4, 4, 4, 8], random);
  const beatFrames = (60 / bpm) * RATE;
  const loopFrames = Math.round(bars * beats * beatFrames);
  const before = untrimmed ? Math.round(oneOf([0.08, 0.3, 0.7, 1.4], random) * (0.6 + 0.8 * random()) * RATE) : 0;
  const after = untrimmed ? Math.round(oneOf([0, 0.4, 1.2, 2], random) * (0.6 + 0.8 * random()) * RATE) : 0;
  const samples = new Float32Array(before + loopFrames + after);
  const swing = between(style.swing ?? [50, 50], random) / 100;
  const sways = random() < 0.6 ? 0.004 + 0.006 * random() : 0;
  const pickup = untrimmed ? pickupPlaces(seededRandom(seed + PICKUP_SEED), before, (beats * beatFrames) / 16) : 0;
  const gains: Partial<Record<Voice, number>> = {};
  const strokes: MadeLoop['strokes'] = [];
  const fold = !untrimmed && random() < 0.4 ? loopFrames : 0;
  for (const [voice, lines] of Object.entries(style.rows) as [Voice, readonly string[]][]) {
    const gain = (gains[voice] ??= 0.5 + 0.6 * random());
    const line = oneOf(lines, random);
    for (let bar = pickup > 0 ? -1 : 0; bar < bars; bar++) {
      const played = bar < 0 || (bar % 4 !== 3 && random() >= 0.25) ? line : oneOf(lines, random);
      const step = (beats * beatFrames) / played.length;
      for (const [place, mark] of [...played].entries()) {
        if (bar < 0 && place < played.length - pickup) continue;
        if (mark === '.' || (bar + place > 0 && random() < 0.02)) continue;
        const late = played.length === 4 * beats && place % 2 === 1 ? (2 * swing - 1) * step : 0;
        const at = before + bar * beats * beatFrames + place * step + late + (random() - 0.5) * 2 * sways * RATE;
        const sound = kit(voice, random);
        const level = (Number(mark) / 9) ** 1.5 * gain * (0.85 + 0.3 * random());
        if (!sound) continue;
        const frame = Math.max(bar < 0 ? 0 : before, Math.round(at));
        lay(samples, sound, frame, level, fold);
        strokes.push({ frame, voice, level });
      }
    }
  }
  const floor = untrimmed ? 10 ** (-(50 + 25 * random()) / 20) : 0;
  const top = samples.reduce((most, one) => Math.max(most, Math.abs(one)), 1e-6);
  for (let i = 0; i < samples.length; i++) samples[i] = (samples[i]! / top) * 0.9 + floor * (random() - 0.5);
  strokes.sort((a, b) => a.frame - b.frame);
  return {
    style: style.name,
    samples,
    bpm,
    bars,
    beatsPerBar: beats,
    startFrame: before,
    isTrimmed: !untrimmed,
    strokes,
  };
}
