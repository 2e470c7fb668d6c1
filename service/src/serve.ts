import { existsSync } from 'node:fs';
import { pino } from 'pino';
import { openDatabase } from './database/connect.js';
import { DatabaseSession } from './database/session.js';
import { FeedClock } from './feed/clock.js';
import { createApp } from './http/app.js';
import { close, listen } from './http/listen.js';
import { ProgressWatch } from './http/progress.js';
import { Imports } from './import/imports.js';
import { JobQueue } from './job/queue.js';
import { Alerts } from './live/alerts.js';
import { Grants } from './live/grants.js';
import { liveListener } from './live/listener.js';
import { LiveRules } from './live/live-rules.js';
import { Recorder } from './live/recorder.js';
import { completeOptions, feedFolder, keyFile, type ServeOptions } from './options.js';
import { ensureAccessKey } from './people/access-key.js';
import { ReplayRunner } from './replay/runner.js';
import { WorkerPool } from './worker/pool.js';
import { PreparedStates } from './workspace/prepared.js';

/** A service that runs. */
export interface RunningService {
  readonly url: string;
  /** The file that the access key is in. */
  readonly keyFile: string;
  /** False where another service made the key of this database, so that it stands in that one's folder. */
  readonly keyFileExists: boolean;
  /** The access key, where it was made just now. */
  readonly newKey: string | undefined;
  /** Ends replays, the listener and the managed database, in that order. */
  stop(): Promise<void>;
}

/** Starts the service: database first, then the jobs, then the listener. Where a step fails, the ones before it are undone. */
export async function serve(given: Partial<ServeOptions>): Promise<RunningService> {
  const root = process.getuid?.() === 0;
  const options = completeOptions(given, process.env, root);
  const logger = pino({ level: options.logLevel, base: null }, pino.destination({ fd: 2, sync: true }));
  const closers: (() => void | Promise<void>)[] = [];
  const stop = async () => {
    for (let close = closers.pop(); close; close = closers.pop()) await close();
  };
  try {
    // A fault that nobody waited for is written down, and ends nothing.
    const unheeded = (error: unknown) => logger.error({ err: error }, 'something failed that nobody waited for');
    process.on('unhandledRejection', unheeded);
    closers.push(() => void process.off('unhandledRejection', unheeded));
    const database = await openDatabase({
      ...options,
      root,
      path: process.env.PATH ?? '',
      warn: (what) => logger.warn(what),
    });
    const { knex } = database;
    closers.push(() => database.close());
    const file = keyFile(options.dataDir);
    const newKey = await ensureAccessKey(knex, file, options.newKey);
    const states = new PreparedStates(knex);
    const session = new DatabaseSession(database.connection);
    closers.push(() => session.close());
    await session.open();
    const pool = new WorkerPool(options.workers);
    closers.push(() => pool.stop());
    pool.start();
    const queue = new JobQueue(database, session, logger);
    closers.push(() => queue.stop());
    const jobs = { knex, session, queue, pool, logger };
    const runner = new ReplayRunner({ ...jobs, states });
    const imports = new Imports({ ...jobs, maxUpload: options.maxUpload });
    await queue.start();
    closers.push(() => runner.stop());
    await runner.open();
    closers.push(() => imports.stop());
    await imports.open();
    const rules = new LiveRules({ knex, states, session, logger });
    closers.push(() => rules.close());
    rules.open();
    const alerts = new Alerts(knex, logger);
    closers.push(() => alerts.close());
    const recorder = new Recorder(knex, alerts, logger);
    closers.push(() => recorder.close());
    recorder.open();
    const feeds = new FeedClock({ knex, states, folder: feedFolder(options.dataDir), logger });
    closers.push(() => feeds.close());
    await feeds.open();
    const watch = new ProgressWatch(session);
    const app = createApp({ knex, states, runner, imports, watch, recorder, rules, feeds, logger, ...options });
    const first = liveListener({ knex, rules, recorder, grants: await Grants.of(knex), logger });
    const { server, url } = await listen(app, first, options.host, options.port);
    closers.push(() => close(server));
    closers.push(() => watch.close());
    logger.info({ url }, 'listening');
    const stopAll = async () => {
      await stop();
      logger.info('stopped');
    };
    return { url, keyFile: file, keyFileExists: existsSync(file), newKey, stop: stopAll };
  } catch (error) {
    await stop();
    throw error;
  }
}
