/** Patterns of a part: copying, making, choosing, naming, removing. */
import { homePattern, loopLengthTicks, orderedEvents } from '../../patterns/home.ts';
import { slicesOfPart } from '../cuts.ts';
import { HOME, type Pattern, type PatternEvent, type ProjectDocument } from '../schema.ts';
import { done, refused, withPart, withPattern, type Command, type CommandEnv } from './command.ts';

const LEAST_LENGTH_TICKS = 240;
const MOST_LENGTH_TICKS = 512 * 3840;

/** Events of a pattern of a part, the home pattern included. */
export function eventsOf(document: ProjectDocument, partId: string, patternId: string): readonly PatternEvent[] {
  const part = document.parts[partId];
  if (!part) return [];
  if (patternId === HOME) return homePattern(slicesOfPart(document, part), part.loop).events;
  const pattern = document.patterns[patternId];
  // What lies beyond the end waits there until the pattern is made longer again.
  return pattern ? orderedEvents(pattern.events).filter((event) => event.positionTicks < pattern.lengthTicks) : [];
}

/** Length of a pattern of a part in ticks, the home pattern included. */
export function patternLengthTicks(document: ProjectDocument, partId: string, patternId: string): number {
  const pattern = document.patterns[patternId];
  return pattern ? pattern.lengthTicks : loopLengthTicks(document.parts[partId]!.loop);
}

export function copyEvents(events: readonly PatternEvent[], env: CommandEnv): Record<string, PatternEvent> {
  return Object.fromEntries(
    events.map((event) => {
      const id = env.newId();
      return [id, { ...event, id }];
    }),
  );
}

function nextName(document: ProjectDocument, partId: string): string {
  const taken = new Set(document.parts[partId]!.patternOrder.map((patternId) => document.patterns[patternId]!.name));
  let number = 1;
  while (taken.has(`pattern ${number}`)) number++;
  return `pattern ${number}`;
}

function addPattern(document: ProjectDocument, pattern: Pattern): ProjectDocument {
  const part = document.parts[pattern.partId]!;
  return {
    ...document,
    patterns: { ...document.patterns, [pattern.id]: pattern },
    parts: {
      ...document.parts,
      [part.id]: { ...part, patternOrder: [...part.patternOrder, pattern.id], activePatternId: pattern.id },
    },
  };
}

/** Copies a pattern (the home pattern too) and puts the copy on. */
export const copyPattern: Command<{ partId: string; patternId: string }> = (document, { partId, patternId }, env) => {
  if (!document.parts[partId]) return refused('this part is gone');
  const events = copyEvents(eventsOf(document, partId, patternId), env);
  const lengthTicks = patternLengthTicks(document, partId, patternId);
  const id = env.newId();
  const name = nextName(document, partId);
  return done(addPattern(document, { id, partId, name, lengthTicks, events, hands: {}, handOrder: [], handId: null }));
};

/** Makes an empty pattern of the loop's length and puts it on. */
export const createPattern: Command<{ partId: string }> = (document, { partId }, env) => {
  const part = document.parts[partId];
  if (!part) return refused('this part is gone');
  const id = env.newId();
  const name = nextName(document, partId);
  const lengthTicks = loopLengthTicks(part.loop);
  return done(
    addPattern(document, { id, partId, name, lengthTicks, events: {}, hands: {}, handOrder: [], handId: null }),
  );
};

/** Chooses the pattern that a part plays; while playing it comes in at the next bar. */
export const choosePattern: Command<{ partId: string; patternId: string }> = (document, { partId, patternId }) => {
  const part = document.parts[partId];
  if (!part || (patternId !== HOME && !part.patternOrder.includes(patternId))) return refused('this pattern is gone');
  return withPart(document, partId, (current) => ({ ...current, activePatternId: patternId }));
};

export const renamePattern: Command<{ patternId: string; name: string }> = (document, { patternId, name }) => {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) return refused('a pattern needs a name');
  return withPattern(document, patternId, (pattern) => ({ ...pattern, name: trimmed }));
};

/** Makes a pattern longer or shorter; what lies beyond its end is kept for when it is made longer again. */
export const setPatternLength: Command<{ patternId: string; lengthTicks: number }> = (
  document,
  { patternId, lengthTicks },
) => {
  if (!(lengthTicks >= LEAST_LENGTH_TICKS && lengthTicks <= MOST_LENGTH_TICKS)) {
    return refused('a pattern is from a sixteenth to 512 bars long');
  }
  return withPattern(document, patternId, (pattern) => ({ ...pattern, lengthTicks }));
};

/** Removes a pattern; a part that played it goes back to its home pattern. */
export const removePattern: Command<{ patternId: string }> = (document, { patternId }) => {
  const { [patternId]: pattern, ...patterns } = document.patterns;
  if (!pattern) return refused('the home pattern always stays');
  return withPart({ ...document, patterns }, pattern.partId, (part) => ({
    ...part,
    patternOrder: part.patternOrder.filter((other) => other !== patternId),
    activePatternId: part.activePatternId === patternId ? HOME : part.activePatternId,
  }));
};
