/** The one engine and the one library of this page. */
import { EngineHost } from './engine-host.ts';
import { SoundLibrary } from './library.ts';

export const engine = new EngineHost();
export const library = new SoundLibrary();
