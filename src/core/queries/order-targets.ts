/** What lanes over sections of the running order may move, each with its words. */
import type { ProjectDocument } from '../document/schema.ts';
import { nameOfChannel } from './channel-names.ts';
import { macrosOf } from './macros.ts';
import { dialsMoved, heardThrough, movableOfPart, type Movable } from './targets.ts';

/** All that a lane over a section may move: of every part, of the mix and the buses, dials. */
export function movableInOrder(document: ProjectDocument): Movable[] {
  const taken = new Set<string>();
  const ofParts = document.partOrder.flatMap((partId) => {
    const part = document.parts[partId]!;
    return movableOfPart(document, part, 'macro')
      .filter(({ target }) => target.kind !== 'channel' || target.id === part.channelId)
      .map((one) => ({ ...one, words: `${part.name}: ${one.words}`, group: `${part.name}, ${one.group}` }));
  });
  const partChannels = new Set(Object.values(document.parts).map(({ channelId }) => channelId));
  const others = Object.values(document.channels).filter(({ id }) => !partChannels.has(id));
  const ofOthers = others.flatMap(({ id }) => {
    const name = nameOfChannel(document, id);
    return heardThrough(document, id)
      .filter(({ target }) => target.kind !== 'channel' || target.id === id)
      .map((one) => ({ ...one, words: `${name}: ${one.words}`, group: `${name}, ${one.group}` }));
  });
  const dialIds = new Set(macrosOf(document).map(({ id }) => id));
  const isDial = ({ target }: Movable) => target.kind === 'modulator' && dialIds.has(target.id!);
  return [...dialsMoved(document), ...[...ofParts, ...ofOthers].filter((one) => !isDial(one))].filter((one) => {
    const name = `${one.target.kind} ${one.target.id} ${one.paramId}`;
    return !taken.has(name) && taken.add(name);
  });
}
