/** A document as it is in a section that has a tempo of its own. */
import type { ProjectDocument } from '../document/schema.ts';
import { withValues } from '../params/row.ts';
import { SONG_ROWS } from '../params/tables.ts';
import { songValues } from '../queries/values.ts';
import { orderLayout } from './layout.ts';
import { orderTempi } from './tempi.ts';

export function atTempo(document: ProjectDocument, tempoBpm: number): ProjectDocument {
  const values = withValues(SONG_ROWS, document.song.values, { tempoBpm });
  return { ...document, song: { ...document.song, values } };
}

/** The document in each tempo of its running order that is not the song's. */
export function inOrderTempi(document: ProjectDocument): { tempoBpm: number; document: ProjectDocument }[] {
  const own = songValues(document).tempoBpm;
  const tempi = orderTempi(orderLayout(document).sections);
  if (tempi.every((tempoBpm) => tempoBpm === own)) return [];
  return tempi.map((tempoBpm) => ({ tempoBpm, document: atTempo(document, tempoBpm) }));
}
