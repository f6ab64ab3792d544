/** Sizes as people read them. */
export function bytesWords(bytes: number): string {
  if (bytes < 1e6) return `${Math.max(1, Math.round(bytes / 1e3))} kB`;
  return `${(bytes / 1e6).toFixed(bytes < 1e8 ? 1 : 0)} MB`;
}
