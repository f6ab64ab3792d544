/** Starts the server on a loopback port and stops it cleanly. */
import { accessSync, constants, mkdirSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join, resolve } from 'node:path';
import pino from 'pino';
import { createApp } from './app.ts';
import { isDiskFull } from './http/errors.ts';
import { UnusableDatabase } from './db/file.ts';
import { DatabaseInUse, openDatabase, type OpenDatabase } from './db/open.ts';

const HOST = '127.0.0.1';
const STOP_WITHIN_MS = 5000;
const KEEP_ALIVE_MS = 90_000;

/** Ends the process with one sentence that says what to do. */
function giveUp(sentence: string): never {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

function dataFolder(): string {
  const folder = resolve(process.env.YAPPA_DATA ?? 'data');
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch {
    giveUp(`The data folder ${folder} cannot be written: choose another one with YAPPA_DATA=FOLDER.`);
  }
  return folder;
}

function openData(folder: string): OpenDatabase {
  try {
    return openDatabase(join(folder, process.env.YAPPA_DB ?? 'yappa.sqlite'));
  } catch (error) {
    if (error instanceof UnusableDatabase) giveUp(error.message);
    if (isDiskFull(error)) giveUp(`The disk of ${folder} is full: make room, and start again.`);
    if (!(error instanceof DatabaseInUse)) throw error;
    giveUp(
      `The data in ${folder} is in use by another Yappa: stop that one, or choose another folder with YAPPA_DATA=FOLDER.`,
    );
  }
}

function listen(server: Server, port: number): void {
  server.once('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE') giveUp(`Port ${port} is taken: choose another one with PORT=NUMBER.`);
    giveUp(
      `The server cannot listen on port ${port} (${error.code ?? error.message}): choose another one with PORT=NUMBER.`,
    );
  });
  server.listen(port, HOST, () => {
    const address = server.address();
    const actual = typeof address === 'object' && address ? address.port : port;
    process.stdout.write(`Yappa is ready: http://localhost:${actual}\n`);
  });
}

function main(): void {
  const port = Number(process.env.PORT ?? 4780);
  if (!Number.isInteger(port) || port < 0 || port > 65535) giveUp(`PORT is "${process.env.PORT}", not a port number.`);
  const log = pino({ level: process.env.LOG_LEVEL ?? 'info' }, pino.destination(2));
  const database = openData(dataFolder());
  const server = createServer(createApp({ db: database.db, log, webRoot: resolve('dist/web') }));
  // Longer than any client keeps a connection by itself: what is sent just as it is closed would be lost.
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  listen(server, port);

  const stop = () => {
    setTimeout(() => process.exit(0), STOP_WITHIN_MS).unref();
    server.close(() => {
      database.close();
      process.exit(0);
    });
    server.closeIdleConnections();
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
}

main();
