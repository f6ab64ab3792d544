/** What channels are called. */
import type { ProjectDocument } from '../document/schema.ts';

/** What a channel is called: after its part, or by its own name. */
export function nameOfChannel({ channels, parts }: ProjectDocument, id: string): string {
  const part = Object.values(parts).find(({ channelId }) => channelId === id);
  return part?.name ?? channels[id]?.name ?? 'the mix';
}
