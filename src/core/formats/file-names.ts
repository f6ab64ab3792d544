/** Names of files that are safe on every system, and each used once. */

/** @param fallback what it is called when nothing is left of the name */
export function safeFileName(words: string, fallback: string): string {
  return (
    words
      .replace(/[\\/:*?"<>|\p{Cc}]/gu, ' ')
      .replace(/\s+/g, ' ')
      .replace(/^[. ]+|[. ]+$/g, '')
      .slice(0, 120) || fallback
  );
}

/** Names of files in one folder: what is called as another one was gets a number. */
export class NamesOnce {
  /** In small letters: some systems do not tell them from large ones. */
  private readonly taken = new Set<string>();

  /** @param ending with its dot, or nothing for a folder */
  take(stem: string, ending = ''): string {
    let name = `${stem}${ending}`;
    for (let copy = 2; this.taken.has(name.toLowerCase()); copy++) name = `${stem} ${copy}${ending}`;
    this.taken.add(name.toLowerCase());
    return name;
  }
}
