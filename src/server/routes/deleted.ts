/** `/api/deleted`: what was deleted and can still be brought back. */
import { Router } from 'express';
import type { DeletedService } from '../services/deleted.ts';

export function deletedRoutes(deleted: DeletedService): Router {
  const router = Router();
  router.get('/', (_request, response) => {
    response.json(deleted.list());
  });
  router.post('/empty', (_request, response) => {
    response.json({ count: deleted.empty() });
  });
  return router;
}
