/** Patterns of a part: copying, making, choosing, naming, removing. */
import { eventsOf, patternLengthTicks } from '../../queries/patterns.ts';
import { cutIdOfHome, homeId, isHome } from '../../document/home-id.ts';
import { MAX_TICKS, PATTERN_COLOURS } from '../../document/limits.ts';
import type { Pattern, PatternEvent, ProjectDocument } from '../../document/schema.ts';
import { withoutDangling } from '../../document/references.ts';
import { withModulatorsCopied } from '../modulator-copies.ts';
import { withoutSwitches } from './switches.ts';
import {
  done,
  find,
  refused,
  withPart,
  withPattern,
  type Command,
  type CommandEnv,
  type CommandResult,
} from './command.ts';

const MIN_LENGTH_TICKS = 240;
/** More could not be told apart in their tabs. */
const MOST_PATTERNS = 512;

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

function withPatternAdded(
  document: ProjectDocument,
  partId: string,
  lengthTicks: number,
  events: Pattern['events'],
  env: CommandEnv,
  wantedName = '',
): CommandResult {
  const part = document.parts[partId]!;
  if (part.patternOrder.length >= MOST_PATTERNS) {
    return refused(`a part has ${MOST_PATTERNS} patterns at most: give some up first`);
  }
  const id = env.newId();
  const name = wantedName.trim().slice(0, 200) || nextName(document, partId);
  const none = { ground: null, hands: {}, handOrder: [], handId: null };
  return done({
    ...document,
    patterns: { ...document.patterns, [id]: { id, partId, name, lengthTicks, events, ...none } },
    parts: {
      ...document.parts,
      [partId]: { ...part, patternOrder: [...part.patternOrder, id], activePatternId: id },
    },
  });
}

/** Is this a pattern of the part, or the home pattern of one of its cuts? */
function isPatternOf(document: ProjectDocument, partId: string, patternId: string): boolean {
  const part = document.parts[partId]!;
  const cutId = cutIdOfHome(patternId);
  return cutId === null ? part.patternOrder.includes(patternId) : part.cutOrder.includes(cutId);
}

/** Copies a pattern (a home pattern too) with its lanes and its changes of treatment, and puts the copy on. */
export const copyPattern: Command<{ partId: string; patternId: string }> = (document, { partId, patternId }, env) => {
  if (!find(document.parts, partId)) return refused('this part is gone');
  if (!isPatternOf(document, partId, patternId)) return refused('this pattern is gone');
  const events = copyEvents(eventsOf(document, patternId), env);
  const copied = withPatternAdded(document, partId, patternLengthTicks(document, patternId), events, env);
  if (!copied.ok) return copied;
  const part = copied.document.parts[partId]!;
  const copyId = part.activePatternId;
  const changes = part.treatmentChanges?.[patternId];
  const treatmentChanges = { ...part.treatmentChanges, ...(changes ? { [copyId]: changes } : {}) };
  return done({
    ...copied.document,
    ...withModulatorsCopied(document, new Map([[patternId, [copyId]]]), env),
    ...(changes ? { parts: { ...copied.document.parts, [partId]: { ...part, treatmentChanges } } } : {}),
  });
};

/** Makes an empty pattern as long as the first cut's home pattern and puts it on. */
export const createPattern: Command<{ partId: string }> = (document, { partId }, env) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const lengthTicks = patternLengthTicks(document, homeId(part.cutOrder[0]!));
  return withPatternAdded(document, partId, lengthTicks, {}, env);
};

export interface LayPatternArgs {
  partId: string;
  /** Empty: the next number. */
  name: string;
  lengthTicks: number;
  strips: readonly Omit<PatternEvent, 'id'>[];
}

/** Makes a pattern of strips that came from elsewhere (played, or out of a file) and puts it on. */
export const layPattern: Command<LayPatternArgs> = (document, { partId, name, lengthTicks, strips }, env) => {
  if (!find(document.parts, partId)) return refused('this part is gone');
  if (strips.some(({ zoneId }) => find(document.zones, zoneId)?.partId !== partId)) {
    return refused('one of these sounds is not in this part');
  }
  if (!(lengthTicks >= MIN_LENGTH_TICKS && lengthTicks <= MAX_TICKS)) {
    return refused('a pattern is from a sixteenth to 512 bars long');
  }
  const events = Object.fromEntries(
    strips.map((strip) => {
      const id = env.newId();
      return [id, { id, ...strip }];
    }),
  );
  return withPatternAdded(document, partId, lengthTicks, events, env, name);
};

/** Chooses the pattern that a part plays; while playing it comes in at the next bar. */
export const choosePattern: Command<{ partId: string; patternId: string }> = (document, { partId, patternId }) => {
  if (!find(document.parts, partId)) return refused('this part is gone');
  if (!isPatternOf(document, partId, patternId)) return refused('this pattern is gone');
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
  if (!(lengthTicks >= MIN_LENGTH_TICKS && lengthTicks <= MAX_TICKS)) {
    return refused('a pattern is from a sixteenth to 512 bars long');
  }
  return withPattern(document, patternId, (pattern) => ({ ...pattern, lengthTicks }));
};

/** Removes a pattern; a part that played it goes back to its first home pattern. */
export const removePattern: Command<{ patternId: string }> = (document, { patternId }) => {
  const pattern = find(document.patterns, patternId);
  if (!pattern) return refused(isHome(patternId) ? 'the home pattern always stays' : 'this pattern is gone already');
  const { [patternId]: _gone, ...patterns } = document.patterns;
  const removed = withPart({ ...document, patterns }, pattern.partId, (part) => ({
    ...withoutSwitches(part, (one) => one.patternId === patternId),
    patternOrder: part.patternOrder.filter((other) => other !== patternId),
    activePatternId: part.activePatternId === patternId ? homeId(part.cutOrder[0]!) : part.activePatternId,
  }));
  return removed.ok ? done(withoutDangling(removed.document)) : removed;
};

/** Marks a pattern by a colour, by its place among them; null takes it off. */
export const colourPattern: Command<{ patternId: string; colour: number | null }> = (
  document,
  { patternId, colour },
) => {
  if (colour !== null && !(Number.isInteger(colour) && colour >= 0 && colour < PATTERN_COLOURS)) {
    return refused(`colours of patterns are told by 0 to ${PATTERN_COLOURS - 1}`);
  }
  return withPattern(document, patternId, ({ colour: _before, ...pattern }) =>
    colour === null ? pattern : { ...pattern, colour },
  );
};

/** Moves a pattern among those of its part, by so many places; the home patterns stay in front. */
export const movePattern: Command<{ patternId: string; by: number }> = (document, { patternId, by }) => {
  const pattern = find(document.patterns, patternId);
  if (!pattern) return refused('this pattern is gone');
  return withPart(document, pattern.partId, (part) => {
    const from = part.patternOrder.indexOf(patternId);
    const to = Math.max(0, Math.min(part.patternOrder.length - 1, from + by));
    if (to === from) return part;
    const patternOrder = part.patternOrder.filter((other) => other !== patternId);
    patternOrder.splice(to, 0, patternId);
    return { ...part, patternOrder };
  });
};
