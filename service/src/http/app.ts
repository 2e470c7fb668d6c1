// The validated classes of every route need it, so that it comes first.
import 'reflect-metadata';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { Redactions } from '../redaction/redactions.js';
import type { ReplayRunner } from '../replay/runner.js';
import type { WorkerPool } from '../worker/pool.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { authenticate } from './authenticate.js';
import { consoleRoutes } from './console.js';
import { noSuchRoute, sendProblem } from './errors.js';
import type { ProgressWatch } from './progress.js';
import { comparisonRoutes } from './routes/comparisons.js';
import { countryRoutes } from './routes/country.js';
import { explanationRoutes } from './routes/explanations.js';
import { healthRoutes } from './routes/health.js';
import { logRoutes } from './routes/logs.js';
import { mappingRoutes } from './routes/mappings.js';
import { replayRoutes } from './routes/replays.js';
import { reviewRoutes } from './routes/review.js';
import { sessionRoutes } from './routes/session.js';
import { workspaceRoutes } from './routes/workspace.js';

export interface AppParts {
  readonly watch: ProgressWatch;
  readonly knex: Knex;
  readonly states: PreparedStates;
  readonly runner: ReplayRunner;
  readonly pool: WorkerPool;
  readonly logger: Logger;
  readonly maxUpload: number;
  readonly consoleDir: string;
}

/** The HTTP face of the service: open routes first, then all that needs the access key, then the console. */
export function createApp({ knex, states, runner, watch, pool, logger, maxUpload, consoleDir }: AppParts): Express {
  const app = express();
  const redactions = new Redactions(knex);
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.use(pinoHttp({ logger, serializers: REQUEST_LINES }));
  app.use(helmet({ contentSecurityPolicy: { useDefaults: false, directives: CONTENT_POLICY }, hsts: false }));
  app.use(healthRoutes(knex));
  app.use('/api', noStore, sessionRoutes(knex));
  app.use(
    '/api',
    authenticate(knex),
    workspaceRoutes(knex, states),
    countryRoutes(knex, states),
    logRoutes(knex, pool, maxUpload),
    mappingRoutes(knex),
    reviewRoutes(knex, states),
  );
  app.use(
    '/api',
    replayRoutes({ knex, states, runner, watch, redactions }),
    comparisonRoutes(knex, redactions),
    explanationRoutes(knex, states),
    noSuchRoute,
  );
  app.use(consoleRoutes(consoleDir), noSuchRoute);
  app.use(sendProblem(logger));
  return app;
}

/** Nothing but our own files, and no script or style inside the page. */
const CONTENT_POLICY = {
  defaultSrc: ["'none'"],
  scriptSrc: ["'self'"],
  styleSrc: ["'self'"],
  imgSrc: ["'self'", 'data:'],
  fontSrc: ["'self'"],
  connectSrc: ["'self'"],
  baseUri: ["'none'"],
  formAction: ["'self'"],
  frameAncestors: ["'none'"],
};

/** Calls are logged without their headers, which carry keys and sessions, and without their queries. */
const REQUEST_LINES = {
  req: ({ id, method, url }: { id: unknown; method: string; url: string }) => ({
    id,
    method,
    path: url.split('?', 1)[0],
  }),
  res: ({ statusCode }: { statusCode: number }) => ({ status: statusCode }),
  err: ({ message }: Error) => ({ message }),
};

const noStore: express.RequestHandler = (_request, response, next) => {
  response.set('cache-control', 'no-store');
  next();
};
