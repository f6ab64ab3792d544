/**
 * The checks of a changed document, with the schema that they go by: a tenth of all that the bench needs, and no part of
 * its first load. Commands make valid documents; this tells of one that does not, before anything hangs on it, and the
 * server looks at every save in any case.
 */
import type { problemOfChange } from '#core/document/validate.ts';

let check: typeof problemOfChange | null = null;

/** Fetches the checks; every change is looked at from then on. */
export async function fetchChecks(): Promise<void> {
  check ??= (await import('#core/document/validate.ts')).problemOfChange;
}

/** What is wrong with a changed document, in words; null when nothing is, and as long as the checks are on their way. */
export const problemOfEdit: typeof problemOfChange = (before, after) => check?.(before, after) ?? null;
