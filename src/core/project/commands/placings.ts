/** Patterns put into sections: placed, moved, stretched, cut, copied, muted, made fills, taken away. */
import { MAX_TICKS, MOST_PLACINGS } from '../../document/limits.ts';
import { cutIdOfHome } from '../../document/home-id.ts';
import type { Placing, ProjectDocument } from '../../document/schema.ts';
import { patternLengthTicks } from '../../queries/patterns.ts';
import { done, find, refused, type Command, type CommandEnv, type CommandResult } from './command.ts';
import { treatmentOf } from './treatments.ts';
import { roundTicksOf, withSection } from './sections.ts';

const GONE = 'this pattern is no longer placed there';
const SHORTEST_TICKS = 240;

interface At {
  sectionId: string;
  placingId: string;
}

function findPlacing(document: ProjectDocument, { sectionId, placingId }: At): Placing | undefined {
  return find(document.sections, sectionId)?.placings.find(({ id }) => id === placingId);
}

/** What was placed gives way to what comes: it is cut off, goes, or is parted in two. */
function withRoom(placings: readonly Placing[], comes: Placing, env: CommandEnv): Placing[] {
  const endTicks = comes.startTicks + comes.lengthTicks;
  return placings.flatMap((one) => {
    const isOther = one.partId !== comes.partId || one.isFill !== comes.isFill || one.id === comes.id;
    const oneEnd = one.startTicks + one.lengthTicks;
    if (isOther || oneEnd <= comes.startTicks || one.startTicks >= endTicks) return [one];
    const left = one.startTicks < comes.startTicks;
    const before = { ...one, lengthTicks: comes.startTicks - one.startTicks };
    const after = { ...one, id: left ? env.newId() : one.id, startTicks: endTicks, lengthTicks: oneEnd - endTicks };
    return [...(left ? [before] : []), ...(oneEnd > endTicks ? [after] : [])];
  });
}

function withPlacing(document: ProjectDocument, sectionId: string, wanted: Placing, env: CommandEnv): CommandResult {
  if (!find(document.sections, sectionId)) return refused('this section is gone');
  const within = roundTicksOf(document, sectionId)!;
  const startTicks = Math.round(wanted.startTicks);
  if (!(startTicks >= 0 && startTicks < within)) return refused('that is outside of this section');
  const lengthTicks = Math.round(
    Math.max(SHORTEST_TICKS, Math.min(wanted.lengthTicks, within - startTicks, MAX_TICKS)),
  );
  const placing = { ...wanted, startTicks, lengthTicks };
  return withSection(document, sectionId, (section) => {
    const others = withRoom(section.placings, placing, env).filter(({ id }) => id !== placing.id);
    return { ...section, placings: [...others, placing].sort((a, b) => a.startTicks - b.startTicks) };
  });
}

export interface PlaceArgs {
  sectionId: string;
  patternId: string;
  startTicks: number;
  /** One round of the pattern where it is left out. */
  lengthTicks?: number;
}

/** Puts a pattern into a section; what lay there gives way. */
export const placePattern: Command<PlaceArgs> = (document, { sectionId, patternId, startTicks, lengthTicks }, env) => {
  const homeOf = cutIdOfHome(patternId);
  const owner = homeOf === null ? find(document.patterns, patternId) : find(document.cuts, homeOf);
  if (!owner) return refused('this pattern is gone');
  if ((find(document.sections, sectionId)?.placings.length ?? 0) >= MOST_PLACINGS)
    return refused(`a section holds ${MOST_PLACINGS} placed patterns at most: make another section`);
  const placing: Placing = {
    id: env.newId(),
    partId: owner.partId,
    patternId,
    startTicks,
    lengthTicks: lengthTicks ?? patternLengthTicks(document, patternId),
    muted: false,
    isFill: false,
  };
  return withPlacing(document, sectionId, placing, env);
};

/** Moves or copies what is placed, into another section too. */
export const movePlacing: Command<At & { toSectionId: string; startTicks: number; copies?: boolean }> = (
  document,
  { sectionId, placingId, toSectionId, startTicks, copies = false },
  env,
) => {
  const placing = findPlacing(document, { sectionId, placingId });
  if (!placing) return refused(GONE);
  if (copies) return withPlacing(document, toSectionId, { ...placing, id: env.newId(), startTicks }, env);
  const taken = withSection(document, sectionId, (section) => ({
    ...section,
    placings: section.placings.filter(({ id }) => id !== placingId),
  }));
  return taken.ok ? withPlacing(taken.document, toSectionId, { ...placing, startTicks }, env) : taken;
};

/** Makes what is placed longer or shorter, at either end. */
export const stretchPlacing: Command<At & { startTicks: number; lengthTicks: number }> = (
  document,
  { sectionId, placingId, startTicks, lengthTicks },
  env,
) => {
  const placing = findPlacing(document, { sectionId, placingId });
  if (!placing) return refused(GONE);
  return withPlacing(document, sectionId, { ...placing, startTicks, lengthTicks }, env);
};

/** Parts what is placed in two. */
export const splitPlacing: Command<At & { atTicks: number }> = (document, { sectionId, placingId, atTicks }, env) => {
  const placing = findPlacing(document, { sectionId, placingId });
  if (!placing) return refused(GONE);
  const first = Math.round(atTicks) - placing.startTicks;
  if (!(first >= SHORTEST_TICKS && first <= placing.lengthTicks - SHORTEST_TICKS))
    return refused('too near to an end to be cut there');
  const second = {
    ...placing,
    id: env.newId(),
    startTicks: placing.startTicks + first,
    lengthTicks: placing.lengthTicks - first,
  };
  return withPlacing(document, sectionId, second, env);
};

export interface PlacingChange {
  muted?: boolean;
  isFill?: boolean;
  patternId?: string;
  /** How the part sounds meanwhile; null: as it does by itself. */
  treatmentId?: string | null;
}

export const changePlacing: Command<At & PlacingChange> = (
  document,
  { sectionId, placingId, treatmentId, ...change },
  env,
) => {
  const placing = findPlacing(document, { sectionId, placingId });
  if (!placing) return refused(GONE);
  const { treatmentId: before, ...plain } = placing;
  const wanted = treatmentId === undefined ? before : treatmentId;
  if (wanted && !treatmentOf(document.parts[placing.partId], wanted)) return refused('this treatment is gone');
  return withPlacing(document, sectionId, { ...plain, ...change, ...(wanted ? { treatmentId: wanted } : {}) }, env);
};

export const removePlacing: Command<At> = (document, { sectionId, placingId }) => {
  if (!findPlacing(document, { sectionId, placingId })) return refused(GONE);
  const { sections } = document;
  const section = sections[sectionId]!;
  const placings = section.placings.filter(({ id }) => id !== placingId);
  return done({ ...document, sections: { ...sections, [sectionId]: { ...section, placings } } });
};
