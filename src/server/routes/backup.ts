/** `/api/backup`: everything as one file, taken while the server runs. */
import { createReadStream } from 'node:fs';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Router } from 'express';
import type { Db } from '../db/open.ts';

/** Pages copied at a time: saves are taken in between. */
const PAGES_AT_A_TIME = 2000;

export function backupRoutes(db: Db): Router {
  const router = Router();
  router.get('/', async (_request, response) => {
    const { name } = db.$client;
    // Beside the database: there is room for it there, if anywhere.
    const folder = await mkdtemp(join(name === ':memory:' ? tmpdir() : dirname(name), 'backup-'));
    try {
      const file = join(folder, 'backup.sqlite');
      await db.$client.backup(file, { progress: () => PAGES_AT_A_TIME });
      const day = new Date().toISOString().slice(0, 10);
      response.set({
        'Content-Type': 'application/vnd.sqlite3',
        'Content-Length': String((await stat(file)).size),
        'Content-Disposition': `attachment; filename="yappa-${day}.sqlite"`,
        'Cache-Control': 'no-store',
      });
      await pipeline(createReadStream(file), response).catch(() => response.destroy());
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
  return router;
}
