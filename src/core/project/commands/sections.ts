/** Sections of the running order: made, copied, moved, named, given up. */
import { withoutDangling } from '../../document/references.ts';
import { lanesOver } from '../../queries/lanes.ts';
import { LONGEST_ORDER_BEATS, MOST_SECTIONS } from '../../document/limits.ts';
import type { Placing, ProjectDocument, Section } from '../../document/schema.ts';
import { orderLayout } from '../../order/layout.ts';
import { withValues } from '../../params/row.ts';
import { LONGEST_SECTION_BARS, SECTION_ROWS } from '../../params/section-rows.ts';
import { patternLengthTicks } from '../../queries/patterns.ts';
import { songValues } from '../../queries/values.ts';
import { TICKS_PER_BEAT } from '../../units/time.ts';
import { setValue, type SetValueArgs } from './values.ts';
import { done, find, refused, type Command, type CommandEnv, type CommandResult } from './command.ts';

const GONE = 'this section is gone';

export function withSection(
  document: ProjectDocument,
  sectionId: string,
  change: (section: Section) => Section,
): CommandResult {
  const section = find(document.sections, sectionId);
  if (!section) return refused(GONE);
  return checked({ ...document, sections: { ...document.sections, [sectionId]: change(section) } });
}

/** An order that is too long to be laid out is refused. */
function checked(document: ProjectDocument): CommandResult {
  const beats = orderLayout(document).lengthTicks / TICKS_PER_BEAT;
  if (beats > LONGEST_ORDER_BEATS)
    return refused(`the running order would have ${Math.round(beats)} beats: ${LONGEST_ORDER_BEATS} are the most`);
  return done(document);
}

function withSectionAdded(document: ProjectDocument, section: Section, place: number): CommandResult {
  const { sections, sectionOrder } = document;
  if (sectionOrder.length >= MOST_SECTIONS)
    return refused(`a running order has ${MOST_SECTIONS} sections at most: give some up, or let some be repeated`);
  const at = Math.max(0, Math.min(sectionOrder.length, place));
  return checked({
    ...document,
    sections: { ...sections, [section.id]: section },
    sectionOrder: sectionOrder.toSpliced(at, 0, section.id),
  });
}

function nextName({ sections }: ProjectDocument): string {
  const taken = new Set(Object.values(sections).map(({ name }) => name));
  let number = 1;
  while (taken.has(`section ${number}`)) number++;
  return `section ${number}`;
}

export interface AddSectionArgs {
  /** Place in the order; the end where it is left out. */
  place?: number;
  name?: string;
  /** Every part plays in it what it plays now; else nobody plays. */
  withPlaying: boolean;
}

/** Makes a section: as long as what plays now, in whole bars, or of four bars. */
export const addSection: Command<AddSectionArgs> = (document, { place, name = '', withPlaying }, env) => {
  const { beatsPerBar } = songValues(document);
  const barTicks = beatsPerBar * TICKS_PER_BEAT;
  const parts = withPlaying ? document.partOrder.map((id) => document.parts[id]!) : [];
  const longest = Math.max(0, ...parts.map((part) => patternLengthTicks(document, part.activePatternId)));
  const bars = longest === 0 ? 4 : Math.min(LONGEST_SECTION_BARS, Math.ceil(longest / barTicks - 1e-9));
  const placings = parts.map((part): Placing => ({
    id: env.newId(),
    partId: part.id,
    patternId: part.activePatternId,
    startTicks: 0,
    lengthTicks: Math.round(bars * barTicks),
    muted: false,
    isFill: false,
  }));
  const section: Section = {
    id: env.newId(),
    name: name.trim().slice(0, 200) || nextName(document),
    values: withValues(SECTION_ROWS, {}, { lengthBars: bars }),
    placings,
  };
  return withSectionAdded(document, section, place ?? document.sectionOrder.length);
};

export interface LaySectionArgs {
  name: string;
  lengthBars: number;
  placings: readonly Omit<Placing, 'id'>[];
}

/** Puts down a section of what was played, last in the order. */
export const laySection: Command<LaySectionArgs> = (document, { name, lengthBars, placings }, env) => {
  if (!(lengthBars >= 1 && lengthBars <= LONGEST_SECTION_BARS))
    return refused(`a section has 1 to ${LONGEST_SECTION_BARS} bars`);
  const section: Section = {
    id: env.newId(),
    name: name.trim().slice(0, 200) || nextName(document),
    values: withValues(SECTION_ROWS, {}, { lengthBars }),
    placings: placings.map((one) => ({ ...one, id: env.newId() })),
  };
  return withSectionAdded(document, section, document.sectionOrder.length);
};

function copied(section: Section, env: CommandEnv): Section {
  return { ...section, id: env.newId(), placings: section.placings.map((one) => ({ ...one, id: env.newId() })) };
}

/** The same section once more, right after the first. */
export const copySection: Command<{ sectionId: string }> = (document, { sectionId }, env) => {
  const section = find(document.sections, sectionId);
  if (!section) return refused(GONE);
  const copy = copied(section, env);
  const added = withSectionAdded(document, copy, document.sectionOrder.indexOf(sectionId) + 1);
  return added.ok ? done(withLanesCopied(added.document, sectionId, copy.id, env)) : added;
};

/** The lanes over a section over another one, too. */
function withLanesCopied(document: ProjectDocument, fromId: string, toId: string, env: CommandEnv): ProjectDocument {
  const { modulators, routes } = document;
  const ids = new Map(lanesOver(document, fromId).map(({ id }) => [id, env.newId()]));
  if (ids.size === 0) return document;
  const lanes = [...ids].map(([id, newId]) => [newId, { ...modulators[id]!, id: newId, ownerId: toId }] as const);
  const ways = Object.values(routes).flatMap((route) => {
    const modulatorId = ids.get(route.modulatorId);
    const id = env.newId();
    return modulatorId === undefined ? [] : [[id, { ...route, id, modulatorId }] as const];
  });
  return {
    ...document,
    modulators: { ...modulators, ...Object.fromEntries(lanes) },
    routes: { ...routes, ...Object.fromEntries(ways) },
  };
}

export const moveSection: Command<{ sectionId: string; by: number }> = (document, { sectionId, by }) => {
  const from = document.sectionOrder.indexOf(sectionId);
  if (from < 0) return refused(GONE);
  const to = from + by;
  if (!(to >= 0 && to < document.sectionOrder.length)) return refused('it stands at the end already');
  const rest = document.sectionOrder.toSpliced(from, 1);
  return done({ ...document, sectionOrder: rest.toSpliced(to, 0, sectionId) });
};

export const removeSection: Command<{ sectionId: string }> = (document, { sectionId }) => {
  if (!find(document.sections, sectionId)) return refused('this section is gone already');
  const { [sectionId]: _gone, ...sections } = document.sections;
  const sectionOrder = document.sectionOrder.filter((id) => id !== sectionId);
  return done(withoutDangling({ ...document, sections, sectionOrder }));
};

export const renameSection: Command<{ sectionId: string; name: string }> = (document, { sectionId, name }) => {
  const trimmed = name.trim().slice(0, 200);
  if (!trimmed) return refused('a section needs a name');
  return withSection(document, sectionId, (section) => ({ ...section, name: trimmed }));
};

/** Changes a setting of a section, and keeps the whole order within what can be laid out. */
export const setSectionValue: Command<{ sectionId: string } & Pick<SetValueArgs, 'param' | 'change'>> = (
  document,
  { sectionId, param, change },
  env,
) => {
  const before = roundTicksOf(document, sectionId);
  const result = setValue(document, { owners: [{ kind: 'section', id: sectionId }], param, change }, env);
  if (!result.ok) return result;
  const after = roundTicksOf(result.document, sectionId);
  if (before === null || after === null || after <= before) return checked(result.document);
  // What is played to its end is played to its new end.
  return withSection(result.document, sectionId, (section) => ({
    ...section,
    placings: section.placings.map((one) =>
      one.startTicks + one.lengthTicks === before ? { ...one, lengthTicks: after - one.startTicks } : one,
    ),
  }));
};

/** Length of a round of a section; null where there is none. */
export function roundTicksOf(document: ProjectDocument, sectionId: string): number | null {
  return orderLayout(document).sections.find(({ section }) => section.id === sectionId)?.roundTicks ?? null;
}
