/** `/api/projects`: the shelf's projects, loading, saving, earlier revisions. */
import { json, Router } from 'express';
import { z } from 'zod';
import type { ProjectService } from '../services/projects.ts';

const idParam = z.object({ id: z.string().regex(/^[\w-]{1,64}$/) });
const nameBody = z.strictObject({ name: z.string().trim().min(1).max(200) });
const saveBody = z.strictObject({
  saveId: z.string().regex(/^[\w-]{8,64}$/),
  baseRevision: z.number().int().min(1),
  label: z.string().max(200),
  changes: z
    .array(
      z.strictObject({
        path: z.array(z.string().max(64)).max(12),
        before: z.unknown().optional(),
        after: z.unknown().optional(),
      }),
    )
    .max(100_000),
});

export function projectRoutes(projects: ProjectService): Router {
  const router = Router();
  router.use(json({ limit: '16mb' }));
  router.get('/', (_request, response) => {
    response.json(projects.list());
  });
  router.post('/', (request, response) => {
    response.status(201).json(projects.create(nameBody.parse(request.body).name));
  });
  router.get('/:id', (request, response) => {
    response.json(projects.load(idParam.parse(request.params).id));
  });
  router.post('/:id/saves', (request, response) => {
    const { id } = idParam.parse(request.params);
    response.json(projects.save(id, saveBody.parse(request.body)));
  });
  router.get('/:id/revisions', (request, response) => {
    response.json(projects.history(idParam.parse(request.params).id));
  });
  router.get('/:id/revisions/:revision', (request, response) => {
    const { id } = idParam.parse(request.params);
    const revision = z.coerce.number().int().parse(request.params.revision);
    response.json({ document: projects.loadRevision(id, revision), revision });
  });
  router.post('/:id/duplicate', (request, response) => {
    response.status(201).json(projects.duplicate(idParam.parse(request.params).id));
  });
  router.delete('/:id', (request, response) => {
    projects.remove(idParam.parse(request.params).id);
    response.status(204).end();
  });
  router.post('/:id/restore', (request, response) => {
    projects.restore(idParam.parse(request.params).id);
    response.status(204).end();
  });
  return router;
}
