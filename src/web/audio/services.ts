/** The one engine and the one library of this page. */
import { NoteInput } from '../devices/notes.ts';
import workletUrl from '../worklets/engine.worklet.ts?worker&url';
import { EngineHost } from './engine-host.ts';
import { SoundLibrary } from './library.ts';
import { RenderingCache } from './renderings.ts';

/** Where the code of the audio thread lies. */
export const ENGINE_URL = workletUrl;
export const engine = new EngineHost(ENGINE_URL);
export const library = new SoundLibrary();
/** Keys, whatever device they are on. */
export const notes = new NoteInput(engine);
const newStretchWorker = () => new Worker(new URL('../workers/stretch.worker.ts', import.meta.url), { type: 'module' });
export const renderings = new RenderingCache(library.audio, newStretchWorker);
