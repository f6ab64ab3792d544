/** A server on a database of its own for each test of a file. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import type request from 'supertest';
import { afterEach, beforeEach } from 'vitest';
import { createApp } from '../../src/server/app.ts';
import { openDatabase, type OpenDatabase } from '../../src/server/db/open.ts';

export interface TestServer {
  database: OpenDatabase;
  app: ReturnType<typeof createApp>;
  folder: string;
}

/** Makes a fresh server before each test and removes it after; call it at the top of a file. */
export function freshServer(): TestServer {
  const server = {} as TestServer;
  beforeEach(() => {
    server.folder = mkdtempSync(join(tmpdir(), 'yappa-'));
    server.database = openDatabase(join(server.folder, 'test.sqlite'));
    server.app = createApp({ db: server.database.db, log: pino({ level: 'silent' }) });
  });
  afterEach(() => {
    server.database.close();
    rmSync(server.folder, { recursive: true });
  });
  return server;
}

/** A request as the page on this machine sends it. */
export const local = <T extends request.Test>(test: T): T => test.set('Host', 'localhost:4780');
