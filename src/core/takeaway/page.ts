/**
 * A page that plays: one HTML file that holds a project, its sounds and what plays them, and asks nothing of any network.
 * Whatever could be taken for markup is held as base64.
 */
import { gzipSync, strToU8 } from 'fflate';
import type { ProjectDocument } from '../document/schema.ts';
import { base64Of } from '../units/base64.ts';

export interface PageParts {
  document: ProjectDocument;
  /** WAV files, by the ids of the sources; one that is missing is silent. */
  sounds: readonly { id: string; wav: Uint8Array }[];
  /** The page's own code and looks, and the code of the audio thread, as the build has made them. */
  script: string;
  style: string;
  engine: string;
}

/** Names of the elements that hold what the page is made of. */
export const PAGE_IDS = { project: 'yappa-project', sounds: 'yappa-sounds', engine: 'yappa-engine' } as const;

/** What a page holds of its sounds. */
export type PageSounds = readonly { id: string; gz: string }[];

const packed = (text: string) => base64Of(gzipSync(strToU8(text), { level: 9 }));
const asText = (words: string) => words.replaceAll('&', '&amp;').replaceAll('<', '&lt;');

/** The page, piece by piece. */
export function pageOf({ document, sounds, script, style, engine }: PageParts): string[] {
  const held = (id: string, content: string) => `<script type="text/plain" id="${id}">${content}</script>\n`;
  const list: PageSounds = sounds.map(({ id, wav }) => ({ id, gz: base64Of(gzipSync(wav, { level: 9 })) }));
  return [
    `<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width, initial-scale=1">\n`,
    // Nothing is fetched, whatever anybody has written into a name.
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; script-src 'unsafe-inline' 'wasm-unsafe-eval' blob: data:; style-src 'unsafe-inline'; worker-src blob: data:; connect-src blob: data:; img-src data:">\n`,
    `<title>${asText(document.name)}</title>\n<style>${style.replaceAll('</style', '<\\/style')}</style>\n</head>\n<body>\n<div id="app"></div>\n`,
    held(PAGE_IDS.project, packed(JSON.stringify(document))),
    held(PAGE_IDS.sounds, JSON.stringify(list)),
    held(PAGE_IDS.engine, packed(engine)),
    `<script>${script.replaceAll('</script', '<\\/script')}</script>\n</body>\n</html>\n`,
  ];
}
