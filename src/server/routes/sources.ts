/** `/api/sources`: the shelf's sounds, their audio with range reads. */
import { json, raw, Router, type Response } from 'express';
import rangeParser from 'range-parser';
import { z } from 'zod';
import { sourceFacts } from '../services/source-facts.ts';
import type { SourceService } from '../services/sources.ts';

/** Largest upload: the longest sound that is taken in (see decode.ts) as 16-bit stereo, and its header. */
const MAX_UPLOAD_BYTES = 1_100_000_000;

const idParam = z.object({ id: z.string().regex(/^[0-9a-f]{64}$/) });
const name = z.string().trim().min(1).max(200);
/** Name and facts travel in a header as JSON in base64, because the body is the audio itself. */
const uploadHeader = z.strictObject({ name, facts: sourceFacts });

export function sourceRoutes(sources: SourceService): Router {
  const router = Router();
  router.get('/', (_request, response) => {
    response.json(sources.list());
  });
  router.get('/:id', (request, response) => {
    const { id } = idParam.parse(request.params);
    response.json({ known: sources.has(id) });
  });
  router.put('/:id', raw({ type: 'audio/wav', limit: MAX_UPLOAD_BYTES }), (request, response) => {
    const { id } = idParam.parse(request.params);
    const header = uploadHeader.parse(parseHeader(request.get('X-Source')));
    const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
    sources.add(id, header.name, header.facts, bytes);
    response.status(201).json({ id });
  });
  router.get('/:id/audio', (request, response) => {
    const { id } = idParam.parse(request.params);
    sendAudio(sources, id, request.get('Range'), response);
  });
  router.patch('/:id', json({ limit: '10kb' }), (request, response) => {
    sources.rename(idParam.parse(request.params).id, z.strictObject({ name }).parse(request.body).name);
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

function sendAudio(sources: SourceService, id: string, range: string | undefined, response: Response): void {
  const size = sources.byteLength(id);
  response.set({
    'Content-Type': 'audio/wav',
    'Accept-Ranges': 'bytes',
    'Cache-Control': 'private, max-age=31536000, immutable',
  });
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
  response.set('Content-Length', String(last - first + 1));
  const pieces = sources.read(id, first, last);
  const pump = () => {
    for (let next = pieces.next(); !next.done; next = pieces.next()) {
      if (response.destroyed) return;
      if (!response.write(next.value)) {
        response.once('drain', pump);
        return;
      }
    }
    response.end();
  };
  pump();
}
