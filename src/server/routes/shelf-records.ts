/** `/api/shelf/kit`, `/api/shelf/groove` …: named things of the shelf, for all projects. */
import { json, Router } from 'express';
import { z } from 'zod';
import { recordId, recordKind, recordName } from '#core/api/shelf.ts';
import type { ShelfRecordService } from '../services/shelf-records.ts';

const kindParam = z.object({ kind: recordKind });
const idParam = kindParam.extend({ id: recordId });

export function shelfRecordRoutes(records: ShelfRecordService): Router {
  const router = Router();
  router.use(json({ limit: '16mb' }));
  router.get('/:kind', (request, response) => {
    response.json(records.list(kindParam.parse(request.params).kind));
  });
  router.get('/:kind/:id', (request, response) => {
    response.json(records.load(idParam.parse(request.params).id));
  });
  router.post('/:kind', (request, response) => {
    response.status(201).json(records.add(kindParam.parse(request.params).kind, request.body));
  });
  router.patch('/:kind/:id', (request, response) => {
    records.rename(idParam.parse(request.params).id, recordName.parse(request.body).name);
    response.status(204).end();
  });
  router.delete('/:kind/:id', (request, response) => {
    records.remove(idParam.parse(request.params).id);
    response.status(204).end();
  });
  router.post('/:kind/:id/restore', (request, response) => {
    records.restore(idParam.parse(request.params).id);
    response.status(204).end();
  });
  return router;
}
