/**
 * Steps from one schema version to the next: `migrations[n]` turns a document of version n into one of n + 1. Each is
 * pure, is never changed once released, and has a frozen fixture in tests/fixtures/documents.
 */
import { AppError } from '../../units/errors.ts';
import { from1 } from './from-1.ts';
import { from2 } from './from-2.ts';
import { from3 } from './from-3.ts';
import { from4 } from './from-4.ts';
import { from5 } from './from-5.ts';
import { from6 } from './from-6.ts';

const migrations: Readonly<Record<number, (document: unknown) => unknown>> = {
  1: from1,
  2: from2,
  3: from3,
  4: from4,
  5: from5,
  6: from6,
};

/** Brings a document from one version to a later one. @throws AppError `document.invalid` for what cannot be read */
export function migrate(json: unknown, from: number, to: number): unknown {
  let current = json;
  for (let version = from; version < to; version++) {
    try {
      current = migrations[version]!(current);
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error);
      throw new AppError('document.invalid', `this project of schema version ${from} cannot be read`, { reason });
    }
  }
  return current;
}
