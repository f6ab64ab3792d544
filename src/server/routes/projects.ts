/** `/api/projects`: the shelf's projects, loading, saving, earlier versions. */
import { json, Router } from 'express';
import { z } from 'zod';
import { nameBody, projectId, saveBody } from '#core/api/projects.ts';
import type { ProjectService } from '../services/projects.ts';
import type { VersionService } from '../services/versions.ts';

const idParam = z.object({ id: projectId });
const versionParam = idParam.extend({ version: z.string().regex(/^(kept-)?\d{1,12}$/) });
const keepBody = saveBody.omit({ saveId: true });

export function projectRoutes(projects: ProjectService, versions: VersionService): Router {
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
  router.get('/:id/versions', (request, response) => {
    response.json(versions.list(idParam.parse(request.params).id));
  });
  router.post('/:id/versions', (request, response) => {
    const { id } = idParam.parse(request.params);
    response.status(201).json(versions.keep(id, keepBody.parse(request.body)));
  });
  router.get('/:id/versions/:version', (request, response) => {
    const { id, version } = versionParam.parse(request.params);
    response.json(versions.load(id, version));
  });
  router.post('/:id/versions/:version/copy', (request, response) => {
    const { id, version } = versionParam.parse(request.params);
    response.status(201).json(versions.copy(id, version));
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
