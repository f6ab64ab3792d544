/** Sounds that were made here, put on the shelf as any other. */
import type { SourceRef } from '#core/document/schema.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import type { ImportWays } from './library.ts';
import { library } from './services.ts';

/** @returns how a document names it */
export async function shelveMade(
  wav: Uint8Array<ArrayBuffer>,
  name: string,
  ways: Pick<ImportWays, 'onProgress' | 'signal' | 'origin'>,
): Promise<SourceRef> {
  const file = new File([wav], `${safeFileName(name, 'made')}.wav`, { type: 'audio/wav' });
  const { source } = await library.importFile(file, ways);
  const { sourceId, sampleRate, channels } = source;
  const frames = channels[0]!.length;
  return { id: sourceId, name: name.slice(0, 200), sampleRate, channels: channels.length, frames };
}
