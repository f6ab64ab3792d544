import type { NamedFile } from '../../workers/export.worker.ts';

/** Files that are called alike get a number. */
export function unlike(files: readonly NamedFile[]): NamedFile[] {
  const seen = new Set<string>();
  return files.map(({ name, file }) => {
    const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(name)!;
    let unique = name;
    for (let copy = 2; seen.has(unique.toLowerCase()); copy++) unique = `${stem} ${copy}${ending ?? ''}`;
    seen.add(unique.toLowerCase());
    return { name: unique, file };
  });
}
