/** `/api/kits`: kits of the shelf, for all projects. */
import { json, Router } from 'express';
import { z } from 'zod';
import { openKit } from '#core/project/kit.ts';
import type { KitService } from '../services/kits.ts';

const idParam = z.object({ id: z.string().regex(/^[\w-]{1,64}$/) });
const nameBody = z.strictObject({ name: z.string().trim().min(1).max(200) });

export function kitRoutes(kits: KitService): Router {
  const router = Router();
  router.use(json({ limit: '8mb' }));
  router.get('/', (_request, response) => {
    response.json(kits.list());
  });
  router.get('/:id', (request, response) => {
    response.json(kits.load(idParam.parse(request.params).id));
  });
  router.post('/', (request, response) => {
    response.status(201).json(kits.add(openKit(request.body)));
  });
  router.patch('/:id', (request, response) => {
    kits.rename(idParam.parse(request.params).id, nameBody.parse(request.body).name);
    response.status(204).end();
  });
  router.delete('/:id', (request, response) => {
    kits.remove(idParam.parse(request.params).id);
    response.status(204).end();
  });
  router.post('/:id/restore', (request, response) => {
    kits.restore(idParam.parse(request.params).id);
    response.status(204).end();
  });
  return router;
}
