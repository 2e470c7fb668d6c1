import type { RunningService } from '@jade-fence/service';
import { Option } from 'commander';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { byteCount, examples, type Register, wholeNumber } from './command.js';

interface Given {
  readonly host?: string;
  readonly port?: number;
  readonly dataDir?: string;
  readonly maxUpload?: number;
  readonly workers?: number;
  readonly logLevel?: string;
  readonly newKey?: boolean;
}

export const registerServe: Register = (program, act) => {
  program
    .command('serve')
    .summary('run the service, with its console')
    .description(
      'Runs the service until it is interrupted. Without DATABASE_URL it starts a PostgreSQL server of its own, which is reached through a private socket only and stops with the service.',
    )
    .option('--host <address>', 'the address to listen on (default: 127.0.0.1, this machine only)')
    .option('--port <number>', 'the port; 0 takes any free one (default: 7440)', wholeNumber(0, 65535))
    .option('--data-dir <folder>', 'where the database and the access key are kept')
    .option('--max-upload <bytes>', 'the largest log to take, such as 2GiB (default: 1GiB)', byteCount)
    .option('--workers <number>', 'threads that read and judge logs (default: one a core)', wholeNumber(1, 64))
    .addOption(
      new Option('--log-level <level>', 'what to log to standard error (default: info)').choices([
        'error',
        'warn',
        'info',
        'debug',
      ]),
    )
    .option('--new-key', 'make a new access key; the old one and all sessions end')
    .addHelpText(
      'after',
      examples(
        'jade-fence serve',
        'jade-fence serve --port 0 --data-dir /srv/jade-fence',
        'DATABASE_URL=postgres://fence@db.example/fence jade-fence serve',
      ),
    )
    .action(
      act(async ({ show }, given: Given) => {
        // The one place where the client knows the service: as the program to start.
        const { serve, StartError } = await import('@jade-fence/service');
        try {
          const service = await serve(given);
          const { url, keyFile, keyFileExists, newKey } = service;
          show({ url, keyFile, keyFileExists, newKey: newKey !== undefined }, tellStarted);
          await interrupted();
          await service.stop();
          return EXIT.done;
        } catch (error) {
          if (!(error instanceof StartError)) throw error;
          throw new Failure(EXIT.service, { code: error.code, detail: error.message, remedy: error.remedy });
        }
      }),
    );
};

function interrupted(): Promise<void> {
  return new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve());
  });
}

function tellStarted(
  service: Pick<RunningService, 'url' | 'keyFile' | 'keyFileExists'> & { readonly newKey: boolean },
): string {
  const { url, keyFile, keyFileExists, newKey } = service;
  const key = `${newKey ? 'New access' : 'Access'} key in ${keyFile}`;
  const elsewhere = `The access key of this database was made by another service, and is not in ${keyFile}.\nUse that one’s, or make another with --new-key.`;
  return `Console and API: ${url}\n${keyFileExists ? key : elsewhere}`;
}
