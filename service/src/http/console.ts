import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Router, static as staticFiles } from 'express';

/** The pages of the console, by the first segment of their addresses. Nothing else is there. */
const PAGES = [
  ...[
    'policies',
    'compare',
    'try',
    'checks',
    'library',
    'logs',
    'draft',
    'live',
    'people',
    'audit',
    'effective',
    'usage',
    'review',
    'history',
  ],
  'look-up',
];
const PAGE = new RegExp(`^/(?:(?:${PAGES.join('|')})(?:/[^/]+){0,3}/?)?$`);

/** The built console: its files, and its one page for the addresses of its pages. */
export function consoleRoutes(consoleDir: string): Router {
  const router = Router();
  const page = join(consoleDir, 'index.html');
  if (!existsSync(page)) return router;
  router.use(staticFiles(consoleDir, { index: false, maxAge: '1h' }));
  router.get(PAGE, (request, response, next) => {
    if (!request.accepts('html')) return next();
    response.set('cache-control', 'no-store').sendFile(page);
  });
  return router;
}
