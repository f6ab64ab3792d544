/** Finds commands by a few letters. */
export interface FoundCommand {
  words: string;
  shortcut: string;
  run: () => void;
}

/**
 * The commands that have every typed word in them, in any order; those where words begin with it first. All of them, in
 * their own order, when nothing is typed.
 */
export function rankCommands<T extends { words: string }>(commands: readonly T[], typed: string): T[] {
  const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const scored = commands.flatMap((command, place) => {
    const words = command.words.toLowerCase();
    if (!wanted.every((one) => words.includes(one))) return [];
    const begins = wanted.filter((one) => words.startsWith(one) || words.includes(` ${one}`)).length;
    return [{ command, score: begins + (wanted.length > 0 && words.startsWith(wanted[0]!) ? 1 : 0), place }];
  });
  return scored.sort((a, b) => b.score - a.score || a.place - b.place).map(({ command }) => command);
}
