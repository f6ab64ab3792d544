/** Parts: adding a source to the song, its loop, its place in the mix and on the keys. */
import { loopTempoBpm } from '../../units/time.ts';
import { defaultCut, defaultPart } from '../defaults.ts';
import type { Material } from '../../stretch/materials.ts';
import type { Role } from '../../analysis/roles.ts';
import type { Loop, Part, SourceRef } from '../schema.ts';
import { done, refused, withPart, type Command } from './command.ts';
import { freshSlices, type FoundSlice } from './cut.ts';

export interface AddPartArgs {
  name: string;
  source: SourceRef;
  loop: Loop;
  tempoReadings: Part['tempoReadings'];
  slices: readonly FoundSlice[];
  /** The song takes the loop's tempo when this is its first part. */
  adoptTempo: boolean;
}

const PITCHED_ROLES: readonly Role[] = ['bass', 'note', 'chord'];
/**
 * Notes with no more than this share of drums are notes. Drums are heard first where both sound, so that a second note tells
 * a mix already: drums that are taken for a mix lose less than a mix that is taken for drums.
 */
const STRAY_SHARE = 0.1;
const STRAY_NOTES_SHARE = 0.05;

/** What a loop is made of, by the roles of its slices. */
export function likeliestMaterial(roles: readonly Role[]): Material {
  const count = roles.length;
  const pitched = roles.filter((role) => PITCHED_ROLES.includes(role)).length;
  if (count === 0) return 'mixes';
  if (pitched >= (1 - STRAY_SHARE) * count) return 'notes';
  return pitched <= Math.max(1, STRAY_NOTES_SHARE * count) ? 'drums' : 'mixes';
}

/** Adds a source as a part with its cut; gives the first part's tempo to the song. */
export const addPart: Command<AddPartArgs> = (document, args, env) => {
  const partId = env.newId();
  const { source, loop } = args;
  const part: Part = {
    ...defaultPart(partId, args.name, source.id, loop),
    tempoReadings: [...args.tempoReadings],
    material: likeliestMaterial(args.slices.map(({ role }) => role)),
  };
  const tempo = loopTempoBpm(loop.bars, loop.beatsPerBar, loop.endFrame - loop.startFrame, source.sampleRate);
  const adopts = args.adoptTempo && document.partOrder.length === 0 && tempo >= 40 && tempo <= 220;
  return done({
    ...document,
    tempoBpm: adopts ? Math.round(tempo * 1000) / 1000 : document.tempoBpm,
    beatsPerBar: adopts ? loop.beatsPerBar : document.beatsPerBar,
    sources: { ...document.sources, [source.id]: source },
    parts: { ...document.parts, [partId]: part },
    partOrder: [...document.partOrder, partId],
    cuts: { ...document.cuts, [partId]: { ...defaultCut(), slices: freshSlices(args.slices, env) } },
  });
};

/** Removes a part with its cut and patterns, and its source when no other part plays it. */
export const removePart: Command<{ partId: string }> = (document, { partId }) => {
  const { [partId]: part, ...parts } = document.parts;
  if (!part) return refused('this part is gone already');
  const { [partId]: _cut, ...cuts } = document.cuts;
  const patterns = Object.fromEntries(Object.entries(document.patterns).filter(([, p]) => p.partId !== partId));
  const used = new Set(Object.values(parts).map((other) => other.sourceId));
  const sources = Object.fromEntries(Object.entries(document.sources).filter(([sourceId]) => used.has(sourceId)));
  const partOrder = document.partOrder.filter((other) => other !== partId);
  return done({ ...document, parts, cuts, patterns, sources, partOrder });
};

/** The same part once more: its cut, its patterns and all its settings; it comes right after the first. */
export const duplicatePart: Command<{ partId: string }> = (document, { partId }, env) => {
  const part = document.parts[partId];
  const cut = document.cuts[partId];
  if (!part || !cut) return refused('this part is gone');
  const newPartId = env.newId();
  const patternIds = new Map(part.patternOrder.map((patternId) => [patternId, env.newId()]));
  const copies = [...patternIds].map(([from, to]) => [to, { ...document.patterns[from]!, id: to, partId: newPartId }]);
  const copy: Part = {
    ...part,
    id: newPartId,
    name: `${part.name} (copy)`.slice(0, 200),
    patternOrder: [...patternIds.values()],
    activePatternId: patternIds.get(part.activePatternId) ?? part.activePatternId,
  };
  return done({
    ...document,
    parts: { ...document.parts, [newPartId]: copy },
    partOrder: document.partOrder.flatMap((other) => (other === partId ? [partId, newPartId] : [other])),
    cuts: { ...document.cuts, [newPartId]: cut },
    patterns: { ...document.patterns, ...Object.fromEntries(copies) },
  });
};

/** Moves a part up (-1) or down (1) in the rail. */
export const movePart: Command<{ partId: string; by: -1 | 1 }> = (document, { partId, by }) => {
  const from = document.partOrder.indexOf(partId);
  const to = from + by;
  if (from < 0) return refused('this part is gone');
  if (to < 0 || to >= document.partOrder.length)
    return refused(`this is the ${by < 0 ? 'first' : 'last'} part already`);
  const partOrder = [...document.partOrder];
  partOrder.splice(from, 1);
  partOrder.splice(to, 0, partId);
  return done({ ...document, partOrder });
};

/** Settings of a part that are simply put. */
export type PartSettings = Partial<
  Omit<Part, 'id' | 'sourceId' | 'loop' | 'tempoReadings' | 'patternOrder' | 'activePatternId'>
>;

const PART_RANGES = [
  { name: 'transposeCents', min: -4800, max: 4800, words: 'a transposition in cents' },
  { name: 'feelPercent', min: 0, max: 100, words: 'the feel that is kept' },
  { name: 'groovePercent', min: 0, max: 100, words: 'the strength of a groove' },
  { name: 'startOffsetTicks', min: -61440, max: 61440, words: 'a start offset in ticks' },
] as const;

export const setPart: Command<{ partId: string; settings: PartSettings }> = (document, { partId, settings }) => {
  const { startKey } = settings;
  if (startKey !== undefined && !(Number.isInteger(startKey) && startKey >= 0 && startKey <= 127)) {
    return refused('a key is a MIDI note from 0 to 127');
  }
  if (settings.name !== undefined && settings.name.trim() === '') return refused('a part needs a name');
  const range = PART_RANGES.find(
    ({ name, min, max }) => settings[name] !== undefined && !(settings[name] >= min && settings[name] <= max),
  );
  if (range) return refused(`${range.words} goes from ${range.min} to ${range.max}`);
  return withPart(document, partId, (part) => ({ ...part, ...settings }));
};

/** Reads the loop anew: other bars, another metre, another start or end. Its tempo follows. */
export const setLoop: Command<{ partId: string; loop: Partial<Loop> }> = (document, { partId, loop }) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  const next = { ...part.loop, ...loop };
  const { frames } = document.sources[part.sourceId]!;
  if (next.startFrame < 0 || next.endFrame > frames) return refused('a loop lies inside its source');
  if (next.endFrame <= next.startFrame) return refused('a loop ends after its start');
  if (next.bars < 1 || next.bars > 512) return refused('a loop has 1 to 512 bars');
  return withPart(document, partId, (current) => ({ ...current, loop: next }));
};
