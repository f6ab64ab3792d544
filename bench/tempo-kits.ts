/** What plays the loops of tempo-material.ts: drums and notes made by arithmetic, or drawn from a folder of hits and notes. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { seededRandom, type Random } from '#core/units/random.ts';
import { strike, type MadeRole } from '../tests/support/made-drums.ts';
import { RATE, type Kit, type Voice } from './tempo-material.ts';

const MADE: Partial<Record<Voice, MadeRole>> = { kick: 'kick', snare: 'snare', hat: 'closed hat' };
const LENGTH: Partial<Record<Voice, number>> = { kick: 0.5, snare: 0.4, hat: 0.2 };
const SCALE = [0, 3, 5, 7, 10, 12];
/** As many as there are notes in the scale. */
const STROKES = 6;

/** A string that is let go: harmonics that fade the faster the higher they are. */
function plucked(hz: number, seconds: number, bright: number): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    const time = i / RATE;
    let sum = 0;
    for (let k = 1; k <= 12 && k * hz < 6000; k++)
      sum += (Math.sin(2 * Math.PI * k * hz * time) * Math.exp(-time * (1.5 + k * bright))) / k;
    return 0.4 * sum * Math.min(1, time / 0.002) * Math.min(1, (seconds - time) / 0.03);
  });
}

/** Drums of one seed, struck a little differently each time; low and high drums of the same arithmetic; notes and chords. */
export function madeKit(seed: number): Kit {
  const random = seededRandom(seed);
  const seeds = { kick: seed * 10 + 1, snare: seed * 10 + 2, hat: seed * 10 + 3 };
  const root = 40 + Math.floor(random() * 20);
  const bright = 0.4 + 2 * random();
  const hz = (note: number) => 440 * 2 ** ((root + note - 69) / 12);
  const known = new Map<string, Float32Array>();
  const make = (voice: Voice, stroke: number): Float32Array => {
    const role = MADE[voice];
    if (role) return strike({ role, seed: seeds[voice as 'kick'] }, stroke, LENGTH[voice]!);
    if (voice === 'note') return plucked(hz(SCALE[stroke]!), 0.45, bright);
    if (voice === 'chord') {
      const lowest = SCALE[stroke]!;
      const notes = [0, 3, 7].map((over) => plucked(hz(lowest + over), 1.2, bright));
      return notes[0]!.map((one, i) => 0.6 * (one + notes[1]![i]! + notes[2]![i]!));
    }
    if (voice === 'open') return strike({ role: 'closed hat', seed: seeds.hat }, stroke, 0.5);
    const tuned = strike({ role: 'kick', seed: seeds.kick + (voice === 'tom' ? 4 : 5) }, stroke, 0.4);
    const fast = voice === 'tom' ? 2 : 4;
    return Float32Array.from({ length: Math.floor(tuned.length / fast) }, (_, i) => tuned[i * fast]!);
  };
  return (voice, drawn) => {
    const stroke = Math.floor(drawn() * STROKES);
    const name = `${voice} ${stroke}`;
    const sound = known.get(name) ?? make(voice, stroke);
    known.set(name, sound);
    return sound;
  };
}

const ROLES: Record<Voice, readonly string[]> = {
  kick: ['kick'],
  snare: ['snare', 'snare', 'snare', 'rimshot', 'clap'],
  hat: ['closedHat'],
  open: ['openHat', 'ride'],
  tom: ['tom'],
  percussion: ['percussion'],
  note: [],
  chord: [],
};

interface Hit {
  offset: number;
  frames: number;
  role?: string;
  midi?: number;
}

/**
 * Kits drawn from a folder of hits and notes with truth, another one for each seed.
 * @param isTaken which of the hits, by their place
 */
export async function drawnKits(folder: string, isTaken: (place: number) => boolean): Promise<(seed: number) => Kit> {
  const read = async (name: string) => {
    const truth = JSON.parse(await readFile(join(folder, name, 'truth.json'), 'utf8')) as Record<string, Hit[]>;
    const { audio } = await decodeSoundFile(await readFile(join(folder, name, `${name}.flac`)));
    const all = truth[name]!.filter((_, place) => isTaken(place));
    return all.map((hit) => ({ ...hit, samples: audio.channels[0]!.slice(hit.offset, hit.offset + hit.frames) }));
  };
  const [hits, notes] = [await read('hits'), await read('notes')];
  const below = <T>(list: readonly T[], random: Random) => list[Math.floor(random() * list.length)];
  return (seed) => {
    const own = new Map<Voice, Float32Array | null>();
    const random = seededRandom(seed);
    for (const voice of Object.keys(ROLES) as Voice[]) {
      const role = below(ROLES[voice], random);
      own.set(
        voice,
        below(
          hits.filter((hit) => hit.role === role),
          random,
        )?.samples ?? null,
      );
    }
    return (voice, drawn) => {
      if (voice === 'note') return below(notes, drawn)?.samples.slice(0, 0.5 * RATE) ?? null;
      if (voice !== 'chord') return own.get(voice) ?? null;
      const three = [below(notes, drawn)!, below(notes, drawn)!, below(notes, drawn)!].map(({ samples }) => samples);
      return three[0]!.map((one, i) => 0.6 * (one + (three[1]![i] ?? 0) + (three[2]![i] ?? 0)));
    };
  };
}
