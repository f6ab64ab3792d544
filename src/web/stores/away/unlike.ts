import { NamesOnce } from '#core/formats/file-names.ts';
import type { NamedFile } from '../../workers/export.worker.ts';

/** Files that are called alike get a number. */
export function unlike(files: readonly NamedFile[]): NamedFile[] {
  const names = new NamesOnce();
  return files.map(({ name, file }) => {
    const [, stem, ending] = /^(.*?)(\.[^.]*)?$/.exec(name)!;
    return { name: names.take(stem!, ending), file };
  });
}
