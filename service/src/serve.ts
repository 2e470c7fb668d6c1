import { existsSync } from 'node:fs';
import { pino } from 'pino';
import { ensureKey } from './access/access.js';
import { openDatabase } from './database/connect.js';
import { createApp } from './http/app.js';
import { close, listen } from './http/listen.js';
import { completeOptions, keyFile, type ServeOptions } from './options.js';
import { ReplayRunner } from './replay/runner.js';
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

/** Starts the service: database first, then the listener. Where a step fails, the ones before it are undone. */
export async function serve(given: Partial<ServeOptions>): Promise<RunningService> {
  const root = process.getuid?.() === 0;
  const options = completeOptions(given, process.env, root);
  const logger = pino({ level: options.logLevel, base: null }, pino.destination({ fd: 2, sync: true }));
  const database = await openDatabase({ ...options, root, path: process.env.PATH ?? '' });
  try {
    const file = keyFile(options.dataDir);
    const newKey = await ensureKey(database.knex, file, options.newKey);
    const states = new PreparedStates(database.knex);
    const runner = new ReplayRunner(database.knex, states, logger);
    const app = createApp({ knex: database.knex, states, runner, logger, ...options });
    const { server, url } = await listen(app, options.host, options.port);
    logger.info({ url }, 'listening');
    const stop = async () => {
      await close(server);
      await runner.stop();
      await database.close();
      logger.info('stopped');
    };
    return { url, keyFile: file, keyFileExists: existsSync(file), newKey, stop };
  } catch (error) {
    await database.close();
    throw error;
  }
}
