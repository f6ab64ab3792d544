/**
 * What is asked of the shelf, in words: parts of names and tags, and facts. `93` and `93bpm` find tempi within 3 percent,
 * `2bars` loops of so many bars, `<1s` and `>10s` lengths, `f#` notes, `hit` and `loop`, `bright` and `dark`, and roles by
 * their names. All of it has to fit.
 */
import type { SourceSummary } from '../api/sources.ts';
import { NOTE_NAMES } from '../units/pitch.ts';

type Searched = Pick<SourceSummary, 'name' | 'tags' | 'facts' | 'frames' | 'sampleRate'>;
export type Wish = (source: Searched) => boolean;

/** A tempo is found this near, as a share of it. */
const TEMPO_WITHIN = 0.03;
/** Between these a sound is neither bright nor dark, in Hz of its centroid. */
const BRIGHT_FROM_HZ = 4000;
const DARK_TO_HZ = 1200;

const textOf = new WeakMap<object, string>();

/** What a sound is found by in words. */
function words(source: Searched): string {
  let text = textOf.get(source);
  if (text === undefined) {
    text = [source.name, ...source.tags, source.facts.heard?.role ?? ''].join(' ').toLowerCase();
    textOf.set(source, text);
  }
  return text;
}

const number = (text: string) => Number(text.replace(',', '.'));

function wishOf(token: string): Wish {
  const inWords: Wish = (source) => words(source).includes(token);
  const bars = /^(\d{1,3})bars?$/.exec(token);
  if (bars) return ({ facts }) => facts.tempo?.bars === Number(bars[1]);
  const tempo = /^(\d{2,3}(?:[.,]\d+)?)(bpm)?$/.exec(token);
  if (tempo) {
    const bpm = number(tempo[1]!);
    const near: Wish = ({ facts }) => Math.abs((facts.tempo?.bpm ?? Infinity) / bpm - 1) <= TEMPO_WITHIN;
    return tempo[2] ? near : (source) => near(source) || inWords(source);
  }
  const length = /^([<>])(\d+(?:[.,]\d+)?)(ms|s|min)$/.exec(token);
  if (length) {
    const unit = { ms: 0.001, s: 1, min: 60 }[length[3] as 'ms' | 's' | 'min'];
    const most = number(length[2]!) * unit;
    return ({ frames, sampleRate }) => (length[1] === '<' ? frames / sampleRate < most : frames / sampleRate > most);
  }
  const note = NOTE_NAMES.findIndex((name) => name.toLowerCase() === token);
  if (note >= 0) return ({ facts }) => typeof facts.heard?.midi === 'number' && facts.heard.midi % 12 === note;
  if (token === 'hit') return (source) => source.facts.heard !== undefined || inWords(source);
  if (token === 'loop') return (source) => source.facts.heard === undefined || inWords(source);
  const brightness = (source: Searched) => source.facts.heard?.brightnessHz;
  if (token === 'bright') return (source) => (brightness(source) ?? 0) >= BRIGHT_FROM_HZ || inWords(source);
  if (token === 'dark') return (source) => (brightness(source) ?? Infinity) <= DARK_TO_HZ || inWords(source);
  return inWords;
}

/** @param text as it is typed: `2 bars` is one wish, as `2bars` is */
export function wishesOf(text: string): Wish[] {
  return text
    .toLowerCase()
    .replace(/(\d)\s+(bars?|bpm|ms|s|min)\b/g, '$1$2')
    .replace(/([<>])\s+/g, '$1')
    .split(/\s+/)
    .filter(Boolean)
    .map(wishOf);
}

export const fits = (source: Searched, wishes: readonly Wish[]): boolean => wishes.every((wish) => wish(source));
