import { describe, expect, it } from 'vitest';
import { droppedFolders, filesIn, folderTags, soundsAmong } from './folders.ts';

const file = (name: string): FileSystemEntry => {
  const fileName = name.split('/').at(-1)!;
  return {
    name: fileName,
    fullPath: `/${name}`,
    isFile: true,
    isDirectory: false,
    file: (found: (one: File) => void) => found(new File(['x'], fileName)),
  } as unknown as FileSystemEntry;
};
/** A folder that gives two of its children at a time. */
const folder = (name: string, children: FileSystemEntry[]): FileSystemEntry => {
  const createReader = () => {
    let at = 0;
    return { readEntries: (found: (some: FileSystemEntry[]) => void) => found(children.slice(at, (at += 2))) };
  };
  return { name, fullPath: `/${name}`, isFile: false, isDirectory: true, createReader } as unknown as FileSystemEntry;
};

describe('folders that are dropped', () => {
  it('give all sounds in them, in order, with the names of the folders as tags', async () => {
    const dry = folder('dry', [file('Breaks/dry/b 10.wav'), file('Breaks/dry/b 2.flac'), file('Breaks/dry/notes.txt')]);
    const found = await filesIn([folder('Breaks', [dry, file('Breaks/a.aif'), file('Breaks/cover.png')])]);
    expect(found.map(({ name }) => name)).toEqual(['a.aif', 'b 2.flac', 'b 10.wav']);
    expect(found.map(folderTags)).toEqual([['breaks'], ['breaks', 'dry'], ['breaks', 'dry']]);
  });

  it('are told from single files, all of which are taken', () => {
    const item = (entry: FileSystemEntry | null) => ({ webkitGetAsEntry: () => entry });
    const items = (...entries: (FileSystemEntry | null)[]) => entries.map(item) as unknown as DataTransferItemList;
    expect(droppedFolders(items(file('a.wav'), null))).toBeNull();
    expect(droppedFolders(items(file('a.wav'), folder('b', [])))).toHaveLength(2);
    const plain = new File(['x'], 'letter.doc');
    expect(soundsAmong([plain])).toEqual([plain]);
    expect(folderTags(plain)).toEqual([]);
  });

  it('of a dialog say their folders themselves', () => {
    const chosen = Object.assign(new File(['x'], 'a.wav'), {});
    Object.defineProperty(chosen, 'webkitRelativePath', { value: 'Kit/Kit/Low toms/a.wav' });
    expect(folderTags(chosen)).toEqual(['kit', 'low toms']);
  });
});
