// npm run backup -- FILE: everything as one file, while the application runs or not. --restore FILE: such a file in its place.
import { createWriteStream, existsSync, mkdirSync, copyFileSync, renameSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import Sqlite from 'better-sqlite3';
import { giveUp, say } from './lib/steps.mjs';

const [first, second] = process.argv.slice(2);
const isRestore = first === '--restore';
const file = isRestore ? second : first;
if (!file) giveUp('usage: npm run backup -- FILE, or npm run backup -- --restore FILE');
const folder = resolve(process.env.YAPPA_DATA ?? 'data');
const database = join(folder, process.env.YAPPA_DB ?? 'yappa.sqlite');
const server = `http://localhost:${process.env.PORT ?? 4780}`;

/** The server's answer to a request, or null where none runs. */
async function ask(path) {
  try {
    const answer = await fetch(server + path);
    return answer.ok ? answer : null;
  } catch {
    return null;
  }
}

function open(path, options) {
  const db = new Sqlite(path, { timeout: 500, ...options });
  try {
    db.prepare('SELECT count(*) FROM projects').get();
    return db;
  } catch (error) {
    db.close();
    throw error;
  }
}

async function backup() {
  if (existsSync(file)) giveUp(`${file} is there already: give another name.`);
  const answer = await ask('/api/backup');
  if (answer) await pipeline(Readable.fromWeb(answer.body), createWriteStream(file));
  else {
    if (!existsSync(database)) giveUp(`There is no data in ${folder}: choose the folder with YAPPA_DATA=FOLDER.`);
    try {
      const db = open(database);
      db.prepare('VACUUM INTO ?').run(resolve(file));
      db.close();
    } catch (error) {
      rmSync(file, { force: true });
      giveUp(`The data could not be copied (${error.message}): is it in use on another port? Say PORT=NUMBER.`);
    }
  }
  open(file, { readonly: true }).close();
  say(`Everything is in ${file}.`);
}

async function restore() {
  try {
    open(file, { readonly: true, fileMustExist: true }).close();
  } catch {
    giveUp(`${file} is no backup of this program.`);
  }
  if (await ask('/api/health')) giveUp(`Stop the application that runs on ${server} first.`);
  mkdirSync(folder, { recursive: true });
  let before = null;
  if (existsSync(database)) {
    before = `${database}.before-${new Date().toISOString().replace(/[:.]/g, '-')}`;
    for (const ending of ['', '-wal', '-shm']) {
      if (existsSync(database + ending)) renameSync(database + ending, before + ending);
    }
  }
  copyFileSync(file, database);
  say(`${file} is in place.${before ? ` What was there before is ${before}.` : ''}`);
}

await (isRestore ? restore() : backup());
