/** Whole folders that come in: which files are in them, and what their names say. */

const MOST_TAGS = 5;
const MOST_LETTERS = 40;
const SOUND = /\.(wav|wave|flac|mp3|ogg|oga|aif|aiff|zip)$/i;

/** Where dropped files lay; those of a dialog say it themselves. */
const paths = new WeakMap<File, string>();
const pathOf = (file: File): string => paths.get(file) ?? (file.webkitRelativePath || '');

/** Names of the folders that a file came in, as tags; none for one that came by itself. */
export function folderTags(file: File): string[] {
  const folders = pathOf(file)
    .split('/')
    .slice(0, -1)
    .map((folder) => folder.trim().toLowerCase().slice(0, MOST_LETTERS))
    .filter(Boolean);
  return [...new Set(folders)].slice(-MOST_TAGS);
}

/** Of folders what can be sound; of single files all, so that what cannot is told. */
export function soundsAmong(files: readonly File[]): File[] {
  return files.filter((file) => !pathOf(file).includes('/') || SOUND.test(file.name));
}

/** What was dropped, as long as the event lasts; null where there is no folder among it. */
export function droppedFolders(items: DataTransferItemList): FileSystemEntry[] | null {
  const entries = [...items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  return entries.some(({ isDirectory }) => isDirectory) ? entries : null;
}

/** All files in what was dropped, folder by folder. */
export async function filesIn(entries: readonly FileSystemEntry[]): Promise<File[]> {
  const found: File[] = [];
  for (const entry of entries) {
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
      paths.set(file, entry.fullPath.replace(/^\//, ''));
      found.push(file);
    } else found.push(...(await filesIn(await childrenOf(entry as FileSystemDirectoryEntry))));
  }
  return soundsAmong(found);
}

/** A reader gives some at a time, and none at the end. */
async function childrenOf(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const found: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return found.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
    found.push(...some);
  }
}
