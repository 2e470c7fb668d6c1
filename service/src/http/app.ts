// The validated classes of every route need it, so that it comes first.
import 'reflect-metadata';
import { API } from '@jade-fence/contract';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { FeedClock } from '../feed/clock.js';
import type { Imports } from '../import/imports.js';
import { Redactions } from '../redaction/redactions.js';
import type { ReplayRunner } from '../replay/runner.js';
import type { Resolves } from '../resolve/resolves.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { Api } from './api.js';
import { whoAsks } from './authenticate.js';
import { consoleRoutes } from './console.js';
import { noSuchRoute, noSuchVersion, sendProblem } from './errors.js';
import type { GateProcess } from './gate/gate-process.js';
import { Metrics } from './metrics.js';
import type { ProgressWatch } from './progress.js';
import { auditRoutes } from './routes/audit.js';
import { catalogueRoutes } from './routes/catalogue.js';
import { checkRoutes } from './routes/checks.js';
import { comparisonRoutes } from './routes/comparisons.js';
import { countryRoutes } from './routes/country.js';
import { decisionRoutes } from './routes/decisions.js';
import { descriptionRoutes } from './routes/description.js';
import { explanationRoutes } from './routes/explanations.js';
import { feedRoutes } from './routes/feeds.js';
import { healthRoutes } from './routes/health.js';
import { importRoutes } from './routes/imports.js';
import { listRoutes } from './routes/lists.js';
import { logRoutes } from './routes/logs.js';
import { lookUpRoutes } from './routes/lookup.js';
import { mappingRoutes } from './routes/mappings.js';
import { objectRoutes } from './routes/objects.js';
import { peopleRoutes } from './routes/people.js';
import { replayRoutes } from './routes/replays.js';
import { resolutionRoutes } from './routes/resolutions.js';
import { reviewRoutes } from './routes/review.js';
import { revisionRoutes } from './routes/revisions.js';
import { sessionRoutes } from './routes/session.js';
import { usageRoutes } from './routes/usage.js';
import { workspaceRoutes } from './routes/workspace.js';
import { SessionCookie } from './session-cookie.js';

/** What the routes work with. */
export interface ApiParts {
  readonly watch: ProgressWatch;
  readonly knex: Knex;
  /** For what must not wait behind other work: who calls, and whether the service is ready. */
  readonly urgent: Knex;
  readonly states: PreparedStates;
  readonly runner: ReplayRunner;
  readonly imports: Imports;
  readonly resolves: Resolves;
  readonly gate: Pick<GateProcess, 'counts'>;
  readonly feeds: FeedClock;
  readonly maxUpload: number;
  /** An upload is ended after this many milliseconds without a byte. */
  readonly uploadIdle: number;
  /** Where browsers reach the service; undefined: as they call it. */
  readonly publicUrl: string | undefined;
}

export interface AppParts extends ApiParts {
  readonly logger: Logger;
  readonly consoleDir: string;
  /** The proxies whose `X-Forwarded-For` and `-Proto` are believed, as addresses and networks. */
  readonly trustProxy: readonly string[];
}

/** The HTTP face of the service: health first, then the API, then the console. */
export function createApp(parts: AppParts): Express {
  const { knex, urgent, logger, consoleDir, publicUrl, trustProxy } = parts;
  const cookie = new SessionCookie(publicUrl);
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.set('trust proxy', trustProxy.length > 0 ? [...trustProxy] : false);
  app.use(pinoHttp({ logger, serializers: REQUEST_LINES }));
  app.use(
    helmet({
      contentSecurityPolicy: { useDefaults: false, directives: CONTENT_POLICY },
      hsts: publicUrl?.startsWith('https:') ?? false,
    }),
  );
  app.use(healthRoutes(urgent));
  const metrics = new Metrics(knex);
  const closed = signedInOnly(urgent, cookie);
  app.use(API, noStore, metrics.watch, apiRoutes(parts, metrics).router, closed, noSuchRoute);
  app.use('/api', noStore, closed, noSuchVersion);
  app.use(consoleRoutes(consoleDir), noSuchRoute);
  app.use(sendProblem(logger));
  return app;
}

/** All routes below `API`. */
export function apiRoutes(
  { knex, urgent, states, runner, imports, resolves, watch, gate, feeds, maxUpload, uploadIdle, publicUrl }: ApiParts,
  metrics: Metrics,
): Api {
  const cookie = new SessionCookie(publicUrl);
  const api = new Api(urgent, cookie);
  const redactions = new Redactions(knex);
  descriptionRoutes(api, metrics);
  sessionRoutes(api, urgent, metrics, cookie);
  peopleRoutes(api, knex);
  auditRoutes(api, knex);
  workspaceRoutes(api, knex, states);
  listRoutes(api, knex, states);
  feedRoutes(api, knex, feeds);
  objectRoutes(api, knex, states);
  revisionRoutes(api, knex, states);
  catalogueRoutes(api, knex, states);
  checkRoutes(api, knex, states);
  lookUpRoutes(api, knex, states);
  countryRoutes(api, knex, states);
  resolutionRoutes(api, { knex, states, resolves, watch });
  logRoutes(api, { knex, imports, watch, maxUpload, uploadIdle });
  importRoutes(api, { knex, imports, watch });
  mappingRoutes(api, knex);
  reviewRoutes(api, { knex, states, redactions });
  replayRoutes(api, { knex, states, runner, watch, redactions });
  comparisonRoutes(api, knex, redactions);
  explanationRoutes(api, knex, states);
  decisionRoutes(api, knex, gate);
  usageRoutes(api, knex, states);
  return api;
}

/** Callers who are not signed in cannot find out which paths exist. */
const signedInOnly =
  (knex: Knex, cookie: SessionCookie): express.RequestHandler =>
  async (request, _response, next) => {
    await whoAsks(knex, cookie, request);
    next();
  };

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
