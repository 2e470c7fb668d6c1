import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Express } from 'express';
import { type Logger, pino } from 'pino';
import { type Database, openDatabase } from './database/connect.js';
import { isDatabaseLost } from './database/faults.js';
import { DatabaseSession } from './database/session.js';
import { FeedClock } from './feed/clock.js';
import { giveWayToDecisions } from './gives-way.js';
import { seedHashesAtRandom } from './hash-secret.js';
import { createApp } from './http/app.js';
import { answerAway } from './http/away.js';
import { GateProcess } from './http/gate/gate-process.js';
import { appServer, close, listen } from './http/listen.js';
import { ProgressWatch } from './http/progress.js';
import { Imports } from './import/imports.js';
import { JobQueue } from './job/queue.js';
import { keepCode } from './keeps-code.js';
import { PlanKeeper } from './kept/keeper.js';
import { type KeptPlan, readKeptPlan } from './kept/plan.js';
import { KeptRules } from './kept/rules.js';
import { LiveRules } from './live/live-rules.js';
import { completeOptions, feedFolder, keyFile, type ServeOptions } from './options.js';
import { ensureAccessKey } from './people/access-key.js';
import { ReplayRunner } from './replay/runner.js';
import { LiveHosts } from './resolve/live-hosts.js';
import { Resolves } from './resolve/resolves.js';
import { StartError } from './start-error.js';
import { WorkerPool } from './worker/pool.js';
import { PreparedStates } from './workspace/prepared.js';

/** While the database is away, it is looked for so often. */
const AGAIN_MS = 2000;

/** A service that runs. */
export interface RunningService {
  readonly url: string;
  /** Where gateways ask for decisions. */
  readonly gateUrl: string;
  /** The file that the access key is in. */
  readonly keyFile: string;
  /** False when another service made the key of this database, so that it is in that service's folder. */
  readonly keyFileExists: boolean;
  /** The access key, where it was made just now. */
  readonly newKey: string | undefined;
  /** The revision that is decided by while the database is away; undefined where it is there. */
  readonly keptRevision: number | undefined;
  /** Ends replays, the listener and the managed database, in that order. */
  stop(): Promise<void>;
}

/** Undoes what was started, the last first. */
type Closers = (() => void | Promise<void>)[];

interface Starting {
  readonly options: ServeOptions;
  readonly logger: Logger;
  readonly closers: Closers;
  /** Decides as soon as it has something to decide by. */
  readonly gate: GateProcess;
}

/**
 * Starts the service: database first, then the jobs, then the listeners. Where a step fails, the ones before it are undone.
 * Where the database is away and a plan is kept, it decides by that until the database is there.
 */
export async function serve(given: Partial<ServeOptions>): Promise<RunningService> {
  seedHashesAtRandom();
  keepCode();
  const options = completeOptions(given, process.env, process.getuid?.() === 0);
  const logger = pino({ level: options.logLevel, base: null }, pino.destination({ fd: 2, sync: true }));
  const closers: Closers = [];
  const stop = async () => {
    for (let close = closers.pop(); close; close = closers.pop()) await close();
  };
  const gate = new GateProcess(options.dataDir, logger);
  closers.push(() => gate.close());
  const starting = { options, logger, closers, gate };
  try {
    // The gate first: all that is started behind it, the database too, gives way to it.
    gate.start();
    giveWayToDecisions();
    // A fault that nobody waited for is written down, and ends nothing.
    const unheeded = (error: unknown) => logger.error({ err: error }, 'something failed that nobody waited for');
    process.on('unhandledRejection', unheeded);
    closers.push(() => void process.off('unhandledRejection', unheeded));
    const opened = await databaseOf(starting).catch((error) => keptWithout(error, starting));
    const service = await (opened instanceof KeptRules ? serveKept(starting, opened) : serveWhole(starting, opened));
    logger.info({ url: service.url, gateUrl: service.gateUrl }, 'listening');
    const stopAll = async () => {
      await stop();
      logger.info('stopped');
    };
    return { ...service, stop: stopAll };
  } catch (error) {
    await stop();
    throw error;
  }
}

const databaseOf = ({ options, logger }: Starting): Promise<Database> =>
  openDatabase({
    ...options,
    root: process.getuid?.() === 0,
    path: process.env.PATH ?? '',
    warn: (what) => logger.warn(what),
  });

/**
 * The rules to decide by where the database could not be opened. Throws why it could not where that will not pass, and where
 * no rules are kept that can be read.
 */
function keptWithout(error: unknown, { options, logger }: Starting): KeptRules {
  if (!(error instanceof StartError && error.mayPass)) throw error;
  try {
    const plan = readKeptPlan(options.dataDir);
    if (plan) return new KeptRules(plan, logger);
  } catch (unread) {
    logger.warn({ err: unread }, 'the kept rules cannot be used');
  }
  throw error;
}

type Listening = Omit<RunningService, 'stop'>;

async function serveWhole(starting: Starting, database: Database): Promise<Listening> {
  const { options, closers, gate } = starting;
  const { app, newKey } = await startWork(starting, database);
  // It writes down what is to be recorded before the database goes.
  closers.push(() => gate.close());
  const { gateUrl, url } = await openListeners(gate, appServer(app).server, { options, closers });
  const file = keyFile(options.dataDir);
  return { url, gateUrl, keyFile: file, keyFileExists: existsSync(file), newKey, keptRevision: undefined };
}

/** Decides by kept rules, and goes on with all else as soon as the database is there. */
async function serveKept(starting: Starting, rules: KeptRules): Promise<Listening> {
  const { options, closers, logger, gate } = starting;
  const { plan } = rules;
  const holds = ({ hash, expiresAt }: KeptPlan['gateways'][number]) =>
    [hash, expiresAt === null ? Number.POSITIVE_INFINITY : Date.parse(expiresAt)] as const;
  await gate.use({
    databaseUrl: options.databaseUrl,
    gateways: new Map(plan.gateways.map(holds)),
    grantKey: Buffer.from(plan.grantKey, 'base64'),
    passcodes: new Map(Object.entries(plan.passcodes)),
  });
  const decide = () => rules.open((revision, prepared) => gate.decideBy(revision, prepared));
  gate.whenAnew(decide);
  await decide();
  const app = appServer(answerAway);
  const urls = await openListeners(gate, app.server, starting);
  logger.warn({ revision: plan.revision }, 'the database is away: requests are decided by the revision that was kept');
  const stopping = new AbortController();
  const coming = comeBack(starting, stopping.signal, (whole) => {
    app.use(whole.app);
    rules.close();
    logger.info('the database is there, and all of the service with it');
  }).catch((error) => logger.error({ err: error }, 'the service decides by the kept revision and does nothing else'));
  closers.push(async () => {
    stopping.abort();
    await coming;
    rules.close();
  });
  const file = keyFile(options.dataDir);
  return { ...urls, keyFile: file, keyFileExists: existsSync(file), newKey: undefined, keptRevision: plan.revision };
}

/** Tries to open the database until it is there, and starts all work then. */
async function comeBack(starting: Starting, signal: AbortSignal, back: (whole: Work) => void): Promise<void> {
  while (!signal.aborted) {
    const closers: Closers = [];
    try {
      const database = await databaseOf(starting);
      back(await startWork({ ...starting, closers }, database));
      starting.closers.push(async () => {
        await starting.gate.close();
        for (let close = closers.pop(); close; close = closers.pop()) await close();
      });
      return;
    } catch (error) {
      for (let close = closers.pop(); close; close = closers.pop()) await close();
      if (!(error instanceof StartError && error.mayPass) && !isDatabaseLost(error)) throw error;
    }
    await sleep(AGAIN_MS, undefined, { signal }).catch(() => undefined);
  }
}

async function openListeners(
  gate: GateProcess,
  server: Server,
  { options, closers }: Pick<Starting, 'options' | 'closers'>,
): Promise<{ readonly gateUrl: string; readonly url: string }> {
  const gateUrl = await gate.open({
    ...{ host: options.gateHost, port: options.gatePort },
    options: { host: '--gate-host', port: '--gate-port' },
  });
  const url = await listen(server, {
    ...{ host: options.host, port: options.port },
    options: { host: '--host', port: '--port' },
  });
  closers.push(() => close(server));
  return { gateUrl, url };
}

/** What the listener answers by, once all that works behind them has started. */
interface Work {
  readonly app: Express;
  readonly newKey: string | undefined;
}

async function startWork({ options, logger, closers, gate }: Starting, database: Database): Promise<Work> {
  const { knex, urgent } = database;
  closers.push(() => database.close());
  const newKey = await ensureAccessKey(knex, keyFile(options.dataDir), options.newKey);
  const states = new PreparedStates(knex);
  const session = new DatabaseSession(database.connection);
  closers.push(() => session.close());
  await session.open();
  const pool = new WorkerPool(options.workers);
  closers.push(() => pool.stop());
  const queue = new JobQueue(database, session, logger);
  closers.push(() => queue.stop());
  const jobs = { knex, session, queue, pool, logger };
  const runner = new ReplayRunner({ ...jobs, states });
  const imports = new Imports({ ...jobs, maxUpload: options.maxUpload });
  const resolves = new Resolves(jobs);
  await queue.start();
  closers.push(() => runner.stop());
  await runner.open();
  closers.push(() => imports.stop());
  await imports.open();
  closers.push(() => resolves.stop());
  await resolves.open();
  const rules = new LiveRules({
    ...{ knex, states, session, logger },
    decideBy: (revision, prepared) => gate.decideBy(revision, prepared),
  });
  closers.push(() => rules.close());
  const keeper = new PlanKeeper(knex, options.dataDir, logger);
  closers.push(() => keeper.close());
  keeper.open(rules, session);
  rules.open();
  const feeds = new FeedClock({ knex, states, folder: feedFolder(options.dataDir), logger });
  closers.push(() => feeds.close());
  await feeds.open();
  const hosts = new LiveHosts({ knex, session, gate, reload: () => rules.reload(), logger });
  closers.push(() => hosts.close());
  hosts.open();
  const watch = new ProgressWatch(session);
  const app = createApp({ knex, urgent, states, runner, imports, resolves, watch, gate, feeds, logger, ...options });
  const reload = () =>
    void gate.reloadGrants().catch((error) => logger.warn({ err: error }, 'grants stay as they were'));
  session.on('notification', (notification) => notification.type === 'grants' && reload());
  session.on('connected', reload);
  closers.push(() => watch.close());
  // Whoever asks from the first moment on is answered by the rules.
  await rules.looked();
  await gate.use({ connection: database.connection });
  gate.whenAnew(() => rules.reload());
  return { app, newKey };
}
