/**
 * Steps from one schema version to the next: `migrations[n]` turns a document of version n into one of n + 1. Each is
 * pure, is never changed once released, and has a frozen fixture in tests/fixtures/documents.
 */
import { from1 } from './from-1.ts';

export const migrations: Readonly<Record<number, (document: unknown) => unknown>> = { 1: from1 };
