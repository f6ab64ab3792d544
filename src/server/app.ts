/** The HTTP application: guards, API, then the built interface. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import staticCompressed from 'express-static-gzip';
import type { Logger } from 'pino';
import type { Db } from './db/open.ts';
import { errorHandler } from './http/errors.ts';
import { refuseForeign, securityHeaders } from './http/guard.ts';
import type { Pace } from './http/progress.ts';
import { backupRoutes } from './routes/backup.ts';
import { deletedRoutes } from './routes/deleted.ts';
import { projectRoutes } from './routes/projects.ts';
import { shelfRecordRoutes } from './routes/shelf-records.ts';
import { sourceRoutes } from './routes/sources.ts';
import { DeletedService } from './services/deleted.ts';
import { ProjectService } from './services/projects.ts';
import { ShelfRecordService } from './services/shelf-records.ts';
import { SourceService } from './services/sources.ts';
import { VersionService } from './services/versions.ts';

export interface AppOptions {
  db: Db;
  log: Logger;
  /** Folder of the built interface; without it only the API answers. */
  webRoot?: string;
  /** How fast uploads have to come. */
  pace?: Pace;
}

/** Requests slower than this are worth a line in the log, in milliseconds. */
const SLOW_MS = 1000;

/** The build holds each file compressed, too; what a browser takes is sent as small as it can be. */
const COMPRESSED: staticCompressed.ExpressStaticGzipOptions = { enableBrotli: true, orderPreference: ['br', 'gz'] };

export function createApp({ db, log, webRoot, pace }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(refuseForeign);
  app.use(securityHeaders);
  app.use(logTrouble(log));
  app.use('/api', rateLimit({ windowMs: 10_000, limit: 2000, standardHeaders: true, legacyHeaders: false }));
  const projects = new ProjectService(db);
  const deleted = new DeletedService(db, () => projects.forget());
  deleted.purgeOld();
  app.use('/api/projects', projectRoutes(projects, new VersionService(db, projects)));
  app.use('/api/deleted', deletedRoutes(deleted));
  app.use('/api/shelf', shelfRecordRoutes(new ShelfRecordService(db)));
  const sources = new SourceService(db);
  sources.dropUnfinished();
  app.use('/api/sources', sourceRoutes(sources, pace));
  app.use('/api/backup', backupRoutes(db));
  app.get('/api/health', (_request, response) => {
    response.json({ ok: true });
  });
  app.use('/api', notFound);
  const hasPages = webRoot !== undefined && existsSync(webRoot);
  if (hasPages) {
    const serveStatic = { immutable: true, maxAge: '1y' };
    app.use('/assets', staticCompressed(join(webRoot, 'assets'), { ...COMPRESSED, serveStatic }));
  }
  app.use('/assets', notFound);
  if (hasPages) {
    app.use(staticCompressed(webRoot, { ...COMPRESSED, index: false, serveStatic: { maxAge: 0 } }));
    app.get('/{*path}', (_request, response) => {
      response.sendFile(join(webRoot, 'index.html'), { headers: { 'Cache-Control': 'no-cache' } });
    });
  }
  app.use(errorHandler(log));
  return app;
}

const notFound: RequestHandler = (_request, response) => {
  response.status(404).json({ code: 'not-found', message: 'there is no such address', details: {} });
};

/** Logs what failed or was slow; the rest is noise. */
function logTrouble(log: Logger): RequestHandler {
  return (request, response, next) => {
    const began = Date.now();
    response.on('close', () => {
      const ms = Date.now() - began;
      const facts = { method: request.method, url: request.originalUrl, status: response.statusCode, ms };
      if (response.locals.trouble) log.error({ ...facts, err: response.locals.trouble as Error }, 'broken off');
      else if (response.statusCode >= 500) log.error(facts, 'failed');
      else if (ms > SLOW_MS) log.warn(facts, 'slow');
      else log.debug(facts, 'answered');
    });
    next();
  };
}
