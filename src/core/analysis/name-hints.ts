/** What a file's name says of its tempo and key: it tells between readings of the tempo, and is shown. */
import type { TempoReading } from './tempo.ts';

export interface NameHints {
  bpm: number | null;
  /** As written, tidied: "A minor", "F# major". */
  key: string | null;
}

/** A named tempo is rounded, or the file not trimmed to the sample. */
const SAME_TEMPO = 0.006;
/** What the hits speak against as clearly as this is not believed of a name. */
const LEAST_CONFIDENCE = 0.01;

export const isTempoNamed = (bpm: number, named: number) => Math.abs(bpm / named - 1) <= SAME_TEMPO;

/** Readings of a tempo, that at which its name has a sound before all others: its confidence stays what the hits say. */
export function namedFirst(readings: readonly TempoReading[], name: string): TempoReading[] {
  const { bpm: named } = readNameHints(name);
  const said = named && readings.find((one) => one.confidence >= LEAST_CONFIDENCE && isTempoNamed(one.bpm, named));
  return said ? [said, ...readings.filter((one) => one !== said)] : [...readings];
}

const LOWEST_BPM = 40;
const HIGHEST_BPM = 240;

/** Reads "break 93bpm", "loop_120_Am", "F#min pad 84.5 bpm". */
export function readNameHints(name: string): NameHints {
  return { bpm: readBpm(name), key: readKey(name) };
}

function readBpm(name: string): number | null {
  const marked =
    /(\d{2,3}(?:[.,]\d{1,3})?)\s*[-_ ]?bpm/i.exec(name) ?? /bpm\s*[-_ ]?(\d{2,3}(?:[.,]\d{1,3})?)/i.exec(name);
  // Without the unit only a number of three digits, or of two with a decimal, standing alone, is likely a tempo.
  const bare = /(?:^|[\s_-])(1\d\d|\d{2,3}[.,]\d{1,3})(?=$|[\s_-])/.exec(name);
  const text = (marked ?? bare)?.[1];
  if (!text) return null;
  const bpm = Number(text.replace(',', '.'));
  return bpm >= LOWEST_BPM && bpm <= HIGHEST_BPM ? bpm : null;
}

function readKey(name: string): string | null {
  const found = /(?:^|[\s_-])([A-G])([#b]?)[\s_-]?(maj(?:or)?|min(?:or)?|m)(?=$|[\s_.-])/.exec(name);
  if (!found) return null;
  const [, note, sign, mode] = found;
  return `${note}${sign} ${mode!.toLowerCase().startsWith('maj') ? 'major' : 'minor'}`;
}

/** Tags by the words that a name may have (common practice in naming files of sounds). */
const TAG_WORDS: readonly [tag: string, words: RegExp][] = [
  ['break', /\b(break|beat|drums?|groove|brushes)(s|beat)?\b/i],
  ['chords', /\b(chords?|keys|pads?|piano|organ)\b/i],
  ['bass', /\b(sub)?bass(line)?\b/i],
  ['found', /\b(found|field|foley|noise)\b/i],
  ['hit', /\b(hit|one.?shot|kick|snare|hat|clap|rim|tom|cymbal|crash|ride)s?\b/i],
];

/** What a sound may be looked for under: by its name, and by whether it is a single hit. */
export function suggestTags(name: string, isHit: boolean): string[] {
  const spaced = name.replace(/[_.]/g, ' ');
  const found = TAG_WORDS.filter(([, words]) => words.test(spaced)).map(([tag]) => tag);
  return isHit && !found.includes('hit') ? [...found, 'hit'] : found;
}
