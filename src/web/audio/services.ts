/** The one engine and the one library of this page. */
import { EngineHost } from './engine-host.ts';
import { SoundLibrary } from './library.ts';
import { RenderingCache } from './renderings.ts';

export const engine = new EngineHost();
export const library = new SoundLibrary();
export const renderings = new RenderingCache(library.audio);
