/** What the page holds of the project: read once, when it is opened. */
import { PAGE_IDS, type PageSounds } from '#core/takeaway/page.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { readWav } from '#core/formats/wav-read.ts';

async function unpacked(base64: string): Promise<Uint8Array<ArrayBuffer>> {
  const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream('gzip'));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

const textOf = (id: string) => document.getElementById(id)?.textContent ?? '';
const asText = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

const asBase64 = (bytes: Uint8Array) => btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''));

export interface Held {
  project: ProjectDocument;
  audio: Map<string, AudioData>;
  /** Where the code of the audio thread lies. */
  engineUrl: string;
}

export async function readHeld(): Promise<Held> {
  const project = JSON.parse(asText(await unpacked(textOf(PAGE_IDS.project)))) as ProjectDocument;
  const audio = new Map<string, AudioData>();
  for (const { id, gz } of JSON.parse(textOf(PAGE_IDS.sounds)) as PageSounds) {
    audio.set(id, readWav(await unpacked(gz)).audio);
  }
  // A page from the disk is of no origin, which a blob of it is not either: only what lies in the address itself is let in.
  const engineUrl = `data:text/javascript;base64,${asBase64(await unpacked(textOf(PAGE_IDS.engine)))}`;
  return { project, audio, engineUrl };
}
