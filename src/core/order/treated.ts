/** A document as it sounds where the running order, or a pattern, lets a part sound in another way. */
import type { Part, ProjectDocument, Treatment } from '../document/schema.ts';
import { withTreatment } from '../queries/treatments.ts';

export interface Treated {
  partId: string;
  treatmentId: string;
  document: ProjectDocument;
}

/** Tables that a treatment changes, or is made of. */
const TABLES = ['parts', 'zones', 'channels', 'effects', 'modulators', 'routes'] as const;
type Laid = Pick<ProjectDocument, (typeof TABLES)[number]>;

interface Known {
  tables: readonly unknown[];
  laid: readonly (Laid & Omit<Treated, 'document'>)[];
}
const known = new WeakMap<object, Known>();

/** Which treatments of which parts the running order and patterns put on, each once. */
export function treatmentsPutOn({
  parts,
  sections,
}: Pick<ProjectDocument, 'parts' | 'sections'>): { part: Part; treatment: Treatment }[] {
  const placings = Object.values(sections).flatMap((section) => section.placings.filter(({ muted }) => !muted));
  const changes = Object.values(parts).flatMap(({ treatmentChanges = {} }) => Object.values(treatmentChanges).flat());
  const wanted = new Set([...placings, ...changes].flatMap(({ treatmentId }) => treatmentId ?? []));
  if (wanted.size === 0) return [];
  return Object.values(parts).flatMap((part) =>
    (part.treatments ?? []).flatMap((treatment) => (wanted.has(treatment.id) ? [{ part, treatment }] : [])),
  );
}

/** The document with each of {@link treatmentsPutOn} put on; what no treatment reaches is the same object. */
export function withEachTreatment(document: ProjectDocument): Treated[] {
  const tables = TABLES.map((name) => document[name]);
  let found = known.get(document.sections);
  if (!found || found.tables.some((table, place) => table !== tables[place])) {
    const laid = treatmentsPutOn(document).map(({ part, treatment }) => {
      const { parts, zones, channels, effects, modulators, routes } = withTreatment(document, part, treatment);
      return { partId: part.id, treatmentId: treatment.id, parts, zones, channels, effects, modulators, routes };
    });
    found = { tables, laid };
    known.set(document.sections, found);
  }
  return found.laid.map(({ partId, treatmentId, ...laid }) => ({
    partId,
    treatmentId,
    document: { ...document, ...laid },
  }));
}
