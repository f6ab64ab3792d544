/** A whole project brought into another: its parts with all that is theirs, its buses, its sections. */
import { withoutDangling } from '../../document/references.ts';
import { TABLES, type ProjectDocument, type TableName } from '../../document/schema.ts';
import { mainChannel } from '../../queries/channels.ts';
import { done, refused, type Command, type CommandEnv } from './command.ts';

const MOST_PARTS = 512;

export interface MergeArgs {
  from: ProjectDocument;
  /** Into a project that has nothing yet: its tempo, its name and the chain of its mix come along. */
  isWhole: boolean;
}

/** Every id that is known all over a document; sounds are named by what they are. */
function* idsOf(document: ProjectDocument): Iterable<string> {
  for (const table of Object.keys(TABLES) as TableName[]) if (table !== 'sources') yield* Object.keys(document[table]);
  for (const { doubles = [] } of Object.values(document.parts)) for (const { id } of doubles) yield id;
}

/**
 * The ids that come, with the ones that they get. What is free stays as it is: chance hangs on ids, and what comes is to
 * sound as it did.
 */
function newIds(from: ProjectDocument, document: ProjectDocument, env: CommandEnv): Map<string, string> {
  const taken = new Set(idsOf(document));
  const ids = new Map<string, string>();
  for (const id of idsOf(from)) ids.set(id, taken.has(id) ? env.newId() : id);
  for (const cutId of Object.keys(from.cuts)) ids.set(`home-${cutId}`, `home-${ids.get(cutId)!}`);
  ids.set(mainChannel(from).id, mainChannel(document).id);
  return ids;
}

/** The same with other ids, wherever they stand: as a value, in a list, or as the name of a record. */
function renamed(value: unknown, ids: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string') return ids.get(value) ?? value;
  if (Array.isArray(value)) return value.map((one) => renamed(one, ids));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => {
      // What somebody has written is no id, whatever it is.
      const isText = key === 'name' && typeof one === 'string';
      return [ids.get(key) ?? key, isText ? one : renamed(one, ids)];
    }),
  );
}

export const mergeProject: Command<MergeArgs> = (document, { from, isWhole }, env) => {
  if (document.partOrder.length + from.partOrder.length > MOST_PARTS)
    return refused(`a project has ${MOST_PARTS} parts at most`);
  const main = mainChannel(document);
  const ids = newIds(from, document, env);
  const comes = renamed(from, ids) as ProjectDocument;
  const comesMain = comes.channels[main.id]!;
  const tables = Object.fromEntries(
    (Object.keys(TABLES) as TableName[]).map((table) => [table, { ...document[table], ...comes[table] }]),
  ) as Pick<ProjectDocument, TableName>;
  const merged: ProjectDocument = {
    ...document,
    ...tables,
    ...(isWhole ? { song: from.song, name: from.name } : {}),
    channels: { ...tables.channels, [main.id]: isWhole ? comesMain : main },
    partOrder: [...document.partOrder, ...comes.partOrder],
    sectionOrder: [...document.sectionOrder, ...comes.sectionOrder],
  };
  return done(withoutDangling(merged));
};
