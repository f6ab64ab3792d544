/**
 * Loops made of single hits and notes, so that the ideal result of a stretch is known: the same hits and notes played
 * again at the other tempo or pitch.
 */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { AudioData } from '#core/dsp/audio.ts';
import { resampleFine } from '#core/dsp/fine-resample.ts';
import { decodeSoundFile } from '#core/formats/decode.ts';
import { seededRandom } from '#core/units/random.ts';

export const RATE = 44100;
export const KINDS = ['drums', 'mixes', 'notes', 'chords', 'stabs'] as const;
export type Kind = (typeof KINDS)[number];

interface Hit {
  offset: number;
  frames: number;
  role: string;
}

interface Note {
  offset: number;
  frames: number;
  midi: number;
  program: number;
}

/** Single sounds in one file each, with their places. */
export interface Sounds {
  hitAudio: Float32Array;
  hits: Hit[];
  noteAudio: Float32Array;
  notes: Note[];
}

interface Played {
  samples: Float32Array;
  beat: number;
  gain: number;
  /** -1 left to 1 right. */
  pan: number;
  /** Null: to the sound's own end. */
  lengthBeats: number | null;
  /** How long it then takes to fall to a third, in seconds; left out: it is over after {@link RELEASE_SECONDS}. */
  fadeSeconds?: number;
}

export interface Piece {
  tempoBpm: number;
  beats: number;
  played: Played[];
}

const RELEASE_SECONDS = 0.03;
/** Hits nearer than this are one attack. */
const SAME_ATTACK_SECONDS = 0.012;

/** @returns null where the folder has no single sounds */
export async function readSounds(folder: string): Promise<Sounds | null> {
  try {
    const [hitAudio, noteAudio] = await Promise.all(
      ['hits', 'notes'].map(async (name) => {
        const { audio } = await decodeSoundFile(await readFile(join(folder, name, `${name}.flac`)));
        return audio.channels[0]!;
      }),
    );
    const [{ hits }, { notes }] = (await Promise.all(
      ['hits', 'notes'].map(
        async (name) => JSON.parse(await readFile(join(folder, name, 'truth.json'), 'utf8')) as unknown,
      ),
    )) as [{ hits: Hit[] }, { notes: Note[] }];
    return { hitAudio: hitAudio!, hits, noteAudio: noteAudio!, notes };
  } catch {
    return null;
  }
}

/** Eight beats of one kind, the same for the same seed. */
export function makePiece(sounds: Sounds, kind: Kind, seed: number): Piece {
  const random = seededRandom(seed * 31 + 7);
  const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!;
  const tempoBpm = 80 + random() * 60;
  const played: Played[] = [];
  const hit = (role: string) => {
    const { offset, frames } = pick(sounds.hits.filter((one) => one.role === role));
    return sounds.hitAudio.subarray(offset, offset + frames);
  };
  const note = ({ offset, frames, midi }: Note, wanted: number) => {
    const increment = 2 ** ((wanted - midi) / 12);
    return resampleFine(sounds.noteAudio.subarray(offset, offset + frames), increment, Math.round(frames / increment));
  };
  const longNotes = sounds.notes.filter(({ frames }) => frames > 60_000);
  // Drums and notes are played together: what stands on one step is early or late together.
  const player = seededRandom(seed * 31 + 8);
  const humanBeats = Array.from({ length: 32 }, (_, step) => (step ? (player() - 0.5) * 0.03 : 0));

  if (kind === 'drums' || kind === 'mixes') {
    const [kick, snare, closed, open] = [hit('kick'), hit('snare'), hit('closedHat'), hit('openHat')];
    for (let step = 0; step < 32; step++) {
      const inBar = step % 16;
      const beat = step / 4 + humanBeats[step]!;
      const add = (samples: Float32Array, gain: number, pan: number) =>
        played.push({ samples, beat, gain, pan, lengthBeats: null });
      if (inBar === 0 || inBar === 10 || random() < 0.08) add(kick, 0.7 + random() * 0.2, 0);
      if (inBar === 4 || inBar === 12) add(snare, 0.6 + random() * 0.2, 0.1);
      else if (random() < 0.1) add(snare, 0.1 + random() * 0.15, 0.1);
      if (step % 2 === 0) add(random() < 0.1 ? open : closed, 0.2 + random() * 0.15, -0.4);
    }
  }
  if (kind === 'notes' || kind === 'mixes') {
    const from = pick(longNotes);
    for (let beat = 0; beat < 8;) {
      const length = pick([0.5, 0.5, 1, 1.5]);
      const samples = note(from, from.midi + pick([0, 0, 3, 5, 7, -2]));
      played.push({ samples, beat: beat + humanBeats[beat * 4]!, gain: 0.35, pan: 0.2, lengthBeats: length * 0.98 });
      beat += length;
    }
  }
  if (kind === 'chords') {
    const from = pick(longNotes.filter(({ midi }) => midi > 45 && midi < 80));
    for (let beat = 0; beat < 8; beat += 2) {
      const root = from.midi + pick([0, 2, -3, 5]);
      [0, pick([3, 4]), 7].forEach((interval, voice) =>
        played.push({
          samples: note(from, root + interval),
          beat,
          gain: 0.25,
          pan: (voice - 1) * 0.5,
          lengthBeats: 1.95,
        }),
      );
    }
  }
  if (kind === 'stabs') {
    const made = random() < 0.5 ? null : pick(longNotes.filter(({ program }) => HELD_PROGRAMS.has(program)));
    const root = made?.midi ?? 48 + Math.floor(random() * 16);
    const fadeSeconds = 0.01 + random() * 0.07;
    const share = 0.3 + random() * 0.5;
    for (let beat = 0; beat < 8;) {
      const length = pick([0.5, 0.75, 1, 1.5]);
      const lowest = root + pick([0, 2, -3, 5]);
      for (const [voice, interval] of (random() < 0.6 ? [0, pick([3, 4]), 7] : [0]).entries()) {
        const samples = made ? note(made, lowest + interval) : organ(lowest + interval);
        played.push({ samples, beat, gain: 0.25, pan: (voice - 1) * 0.4, lengthBeats: length * share, fadeSeconds });
      }
      beat += length;
    }
  }
  return { tempoBpm, beats: 8, played };
}

/** Organs, bowed and blown sounds of General MIDI: they are held until they are let go. */
const HELD_PROGRAMS: ReadonlySet<number> = new Set(Array.from({ length: 40 }, (_, i) => (i < 8 ? 16 + i : 32 + i)));

/** Drawbars of six pipes. */
function organ(midi: number): Float32Array {
  const turn = (2 * Math.PI * 440 * 2 ** ((midi - 69) / 12)) / RATE;
  return Float32Array.from(
    { length: 2 * RATE },
    (_, i) =>
      [1, 2, 3, 4, 6, 8].reduce((sum, pipe) => sum + Math.sin(turn * pipe * i + pipe) / (2 + pipe), 0) *
      Math.min(1, i / 200),
  );
}

/** Plays a piece at a tempo and transposition; `attacks` are the frames at which something begins. */
export function playPiece(piece: Piece, tempoBpm: number, semitones = 0): { audio: AudioData; attacks: number[] } {
  const framesABeat = (60 / tempoBpm) * RATE;
  const left = new Float32Array(Math.round(piece.beats * framesABeat));
  const right = new Float32Array(left.length);
  const release = Math.round(RELEASE_SECONDS * RATE);
  const increment = 2 ** (semitones / 12);
  const starts: number[] = [];
  for (const { samples, beat, gain, pan, lengthBeats, fadeSeconds } of piece.played) {
    const sound = resampleFine(samples, increment, Math.round(samples.length / increment));
    const at = Math.round(beat * framesABeat);
    if (at < 0 || at >= left.length) continue;
    starts.push(at);
    const isHeld = lengthBeats !== null;
    const held = isHeld ? Math.round(lengthBeats * framesABeat) : sound.length;
    const fade = fadeSeconds === undefined ? release : Math.round(8 * fadeSeconds * RATE);
    const length = isHeld ? Math.min(sound.length, held + fade) : sound.length;
    for (let i = 0; i < length && at + i < left.length; i++) {
      let level = gain;
      if (isHeld && fadeSeconds === undefined) level *= Math.min(1, (length - i) / release);
      else if (isHeld && i > held) level *= Math.exp((held - i) / fadeSeconds! / RATE);
      left[at + i]! += sound[i]! * level * (1 - Math.max(0, pan));
      right[at + i]! += sound[i]! * level * (1 + Math.min(0, pan));
    }
  }
  starts.sort((a, b) => a - b);
  const attacks = starts.filter((at, i) => i === 0 || at - starts[i - 1]! > SAME_ATTACK_SECONDS * RATE);
  return { audio: { sampleRate: RATE, channels: [left, right] }, attacks };
}
