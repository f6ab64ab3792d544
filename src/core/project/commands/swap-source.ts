/** A cut with another source of the same length: slices taken apart, a pitch made flat. */
import type { SourceRef } from '../../document/schema.ts';
import { withoutDangling } from '../../document/references.ts';
import { done, find, refused, type Command } from './command.ts';

export interface SwapSourceArgs {
  cutId: string;
  /** As long as the one whose place it takes, at the same rate. */
  source: SourceRef;
}

/** A cut reads another source in the place of its own: the same sound, with some slices changed. All else stays. */
export const swapSource: Command<SwapSourceArgs> = (document, { cutId, source }) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const before = document.sources[cut.sourceId]!;
  if (source.frames !== before.frames || source.sampleRate !== before.sampleRate)
    return refused('what takes the place of a sound is as long as it');
  const sources = { ...document.sources, [source.id]: document.sources[source.id] ?? source };
  const cuts = { ...document.cuts, [cutId]: { ...cut, sourceId: source.id } };
  return done(withoutDangling({ ...document, sources, cuts }));
};
