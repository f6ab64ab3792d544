/** Names of files that are safe on every system. */

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
