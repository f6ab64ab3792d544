/** What belongs to the whole project beside its settings. */
import { done, refused, type Command } from './command.ts';

export const renameProject: Command<{ name: string }> = (document, { name }) => {
  const trimmed = name.trim().slice(0, 200);
  return trimmed ? done({ ...document, name: trimmed }) : refused('a project needs a name');
};
