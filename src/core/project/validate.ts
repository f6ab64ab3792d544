/** Opens documents from outside: schema, migrations, and the rules that a schema cannot say. */
import { AppError } from '../units/errors.ts';
import { migrations } from './migrations/index.ts';
import { HOME, projectDocument, SCHEMA_VERSION, type ProjectDocument } from './schema.ts';

/**
 * Turns parsed JSON of any known version into a valid document.
 * @throws AppError `document.newer` for a version that this program does not know, `document.invalid` otherwise
 */
export function openDocument(json: unknown): ProjectDocument {
  const version = (json as { schemaVersion?: unknown } | null)?.schemaVersion;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    throw new AppError('document.invalid', 'this is not a project: it has no schemaVersion');
  }
  if (version > SCHEMA_VERSION) {
    throw new AppError('document.newer', `the project was made by a newer version (schema ${version})`, {
      version,
      known: SCHEMA_VERSION,
    });
  }
  let current: unknown = json;
  for (let from = version; from < SCHEMA_VERSION; from++) current = migrations[from]!(current);
  const parsed = projectDocument.safeParse(current);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new AppError('document.invalid', `${issue.path.join('.') || 'document'}: ${issue.message}`, {
      path: issue.path.join('.'),
    });
  }
  const problem = brokenRule(parsed.data);
  if (problem) throw new AppError('document.invalid', problem);
  return parsed.data;
}

/** The first broken rule between tables, in words; null when all hold. */
export function brokenRule(document: ProjectDocument): string | null {
  const { parts, cuts, patterns, sources, partOrder } = document;
  if (!sameMembers(partOrder, Object.keys(parts))) return 'partOrder does not list every part once';
  if (!sameMembers(Object.keys(cuts), Object.keys(parts))) return 'every part has one cut';
  for (const part of Object.values(parts)) {
    const source = sources[part.sourceId];
    if (!source) return `part ${part.id} plays the unknown source ${part.sourceId}`;
    if (part.loop.endFrame > source.frames) return `the loop of part ${part.id} ends after its source`;
    const own = Object.values(patterns).filter((pattern) => pattern.partId === part.id);
    if (
      !sameMembers(
        part.patternOrder,
        own.map((pattern) => pattern.id),
      )
    ) {
      return `part ${part.id} does not list every one of its patterns once`;
    }
    if (part.activePatternId !== HOME && !part.patternOrder.includes(part.activePatternId)) {
      return `part ${part.id} plays the unknown pattern ${part.activePatternId}`;
    }
    for (const slice of Object.values(cuts[part.id]!.slices)) {
      if (slice.startFrame >= source.frames) return `slice ${slice.id} starts after its source`;
      if (slice.endFrame !== null && (slice.endFrame <= slice.startFrame || slice.endFrame > source.frames)) {
        return `slice ${slice.id} ends before its start or after its source`;
      }
    }
  }
  for (const pattern of Object.values(patterns)) {
    const cut = cuts[pattern.partId];
    if (!cut) return `pattern ${pattern.id} belongs to the unknown part ${pattern.partId}`;
    for (const event of Object.values(pattern.events)) {
      if (!cut.slices[event.sliceId])
        return `an event of pattern ${pattern.id} plays the unknown slice ${event.sliceId}`;
    }
    if (!sameMembers(pattern.handOrder, Object.keys(pattern.hands))) return `pattern ${pattern.id} has lost a hand`;
    if (pattern.handId !== null && !pattern.hands[pattern.handId]) return `pattern ${pattern.id} shows an unknown hand`;
  }
  return null;
}

function sameMembers(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && new Set(a).size === a.length && b.every((item) => a.includes(item));
}
