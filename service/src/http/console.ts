import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Router, static as staticFiles } from 'express';

/** The built console: its files, and its one page for every address that is no file and no call. */
export function consoleRoutes(consoleDir: string): Router {
  const router = Router();
  const page = join(consoleDir, 'index.html');
  if (!existsSync(page)) return router;
  router.use(staticFiles(consoleDir, { index: false, maxAge: '1h' }));
  router.get(/^\/(?!api\/|health$|ready$).*/, (request, response, next) => {
    if (!request.accepts('html')) return next();
    response.set('cache-control', 'no-store').sendFile(page);
  });
  return router;
}
