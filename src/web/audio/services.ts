/** The one engine and the one library of this page. */
import { NoteInput } from '../devices/notes.ts';
import { EngineHost } from './engine-host.ts';
import { SoundLibrary } from './library.ts';
import { RenderingCache } from './renderings.ts';

export const engine = new EngineHost();
export const library = new SoundLibrary();
/** Keys, whatever device they are on. */
export const notes = new NoteInput(engine);
export const renderings = new RenderingCache(library.audio);
