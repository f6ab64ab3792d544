/** `/api/grooves`: grooves lifted out of loops, for all projects. */
import { json, Router } from 'express';
import { z } from 'zod';
import { groove } from '#core/project/schema.ts';
import type { GrooveService } from '../services/grooves.ts';

const idParam = z.object({ id: z.string().regex(/^[\w-]{1,64}$/) });
const name = z.string().trim().min(1).max(200);
const namedGroove = z.strictObject({ ...groove.shape, name });

export function grooveRoutes(grooves: GrooveService): Router {
  const router = Router();
  router.use(json({ limit: '256kb' }));
  router.get('/', (_request, response) => {
    response.json(grooves.list());
  });
  router.post('/', (request, response) => {
    response.status(201).json(grooves.add(namedGroove.parse(request.body)));
  });
  router.patch('/:id', (request, response) => {
    grooves.rename(idParam.parse(request.params).id, z.strictObject({ name }).parse(request.body).name);
    response.status(204).end();
  });
  router.delete('/:id', (request, response) => {
    grooves.remove(idParam.parse(request.params).id);
    response.status(204).end();
  });
  router.post('/:id/restore', (request, response) => {
    grooves.restore(idParam.parse(request.params).id);
    response.status(204).end();
  });
  return router;
}
