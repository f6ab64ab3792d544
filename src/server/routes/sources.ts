/** `/api/sources`: the shelf's sounds, their audio with range reads. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { json, Router, type Response } from 'express';
import rangeParser from 'range-parser';
import { z } from 'zod';
import { changeSourceBody, sourceId, uploadHeader, type KnownSource } from '#core/api/sources.ts';
import { AppError } from '#core/units/errors.ts';
import { atPace, type Pace } from '../http/progress.ts';
import type { SourceService } from '../services/sources.ts';

/** Largest upload: the longest sound that is taken in (see decode.ts) as 32-bit float, its header and its markers. */
const MAX_UPLOAD_BYTES = 450_000_000;

const idParam = z.object({ id: sourceId });

const PACE: Pace = { idleMs: 15_000, bytesPerSecond: 16_384 };

export function sourceRoutes(sources: SourceService, pace = PACE): Router {
  const router = Router();
  router.get('/', (_request, response) => {
    response.json(sources.list());
  });
  router.get('/prints', (_request, response) => {
    response.json(sources.prints());
  });
  router.get('/:id', (request, response) => {
    const { id } = idParam.parse(request.params);
    response.json({ known: sources.has(id), name: sources.shelfName(id) } satisfies KnownSource);
  });
  router.put('/:id', async (request, response) => {
    const { id } = idParam.parse(request.params);
    const header = uploadHeader.parse(parseHeader(request.get('X-Source')));
    const byteLength = Number(request.get('Content-Length') ?? NaN);
    if (!(byteLength <= MAX_UPLOAD_BYTES)) throw new AppError('format.too-large', 'the upload is too large');
    // An upload that is refused is read to its end all the same: the answer would not arrive otherwise.
    const pieces = request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>;
    try {
      await sources.receive(id, header.name, header.facts, byteLength, atPace(pieces, pace), header);
    } catch (error) {
      // Nobody waits for the rest of what does not come.
      if (error instanceof AppError && error.code === 'upload.slow') response.set('Connection', 'close');
      throw error;
    } finally {
      request.resume();
    }
    response.status(201).json({ id });
  });
  router.get('/:id/uses', (request, response) => {
    response.json(sources.uses(idParam.parse(request.params).id));
  });
  router.get('/:id/audio', async (request, response) => {
    const { id } = idParam.parse(request.params);
    await sendAudio(sources, id, request.get('Range'), response);
  });
  router.patch('/:id', json({ limit: '10kb' }), (request, response) => {
    sources.change(idParam.parse(request.params).id, changeSourceBody.parse(request.body));
    response.status(204).end();
  });
  router.delete('/:id', (request, response) => {
    sources.remove(idParam.parse(request.params).id);
    response.status(204).end();
  });
  router.post('/:id/restore', (request, response) => {
    sources.restore(idParam.parse(request.params).id);
    response.status(204).end();
  });
  return router;
}

function parseHeader(header: string | undefined): unknown {
  try {
    return JSON.parse(Buffer.from(header ?? '', 'base64').toString('utf8'));
  } catch {
    return null;
  }
}

async function sendAudio(
  sources: SourceService,
  id: string,
  range: string | undefined,
  response: Response,
): Promise<void> {
  const size = sources.byteLength(id);
  let first = 0;
  let last = size - 1;
  if (range !== undefined) {
    const ranges = rangeParser(size, range, { combine: true });
    if (ranges === -1) {
      response.status(416).set('Content-Range', `bytes */${size}`).end();
      return;
    }
    if (Array.isArray(ranges) && ranges.length === 1) {
      first = ranges[0]!.start;
      last = ranges[0]!.end;
      response.status(206).set('Content-Range', `bytes ${first}-${last}/${size}`);
    }
  }
  // The first piece is fetched before anything is said: where it is missing there is still an answer to give.
  const pieces = sources.read(id, first, last);
  const beginning = pieces.next();
  response.set({
    'Content-Type': 'audio/wav',
    'Accept-Ranges': 'bytes',
    'Cache-Control': 'private, max-age=31536000, immutable',
    'Content-Length': String(last - first + 1),
  });
  const all = function* () {
    if (!beginning.done) yield beginning.value;
    yield* pieces;
  };
  try {
    await pipeline(Readable.from(all()), response);
  } catch (error) {
    // The answer has begun: breaking it off is all that can be said. A reader that went away is nobody's trouble.
    response.destroy();
    if (error instanceof AppError) response.locals.trouble = error;
  }
}
