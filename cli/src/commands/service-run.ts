import { isRangeFault, tryRange } from '@jade-fence/core/address';
import { parseUrl } from '@jade-fence/core/url';
import type { RunningService } from '@jade-fence/service';
import { InvalidArgumentError, Option } from 'commander';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { noun } from '../nouns.js';
import { byteCount, examples, type Register, wholeNumber } from './command.js';

interface Given {
  readonly host?: string;
  readonly port?: number;
  readonly gateHost?: string;
  readonly gatePort?: number;
  readonly trustProxy?: string[];
  readonly publicUrl?: string;
  readonly dataDir?: string;
  readonly maxUpload?: number;
  readonly uploadIdle?: number;
  readonly workers?: number;
  readonly logLevel?: string;
  readonly newKey?: boolean;
  readonly stopWithInput?: boolean;
}

export const registerServiceRun: Register = (program, act) => {
  noun(program, 'service')
    .command('run')
    .summary('run the service, with its console')
    .description(
      'Runs the service until it is interrupted. Without DATABASE_URL it starts a PostgreSQL server of its own, which is reached through a private socket only and stops with the service.',
    )
    .option('--host <address>', 'the address to listen on (default: 127.0.0.1, this machine only)')
    .option('--port <number>', 'the port; 0 takes any free one (default: 7440)', wholeNumber(0, 65535))
    .option('--gate-host <address>', 'the address on which gateways ask for decisions (default: 127.0.0.1)')
    .option('--gate-port <number>', 'the port for them; 0 takes any free one (default: 7441)', wholeNumber(0, 65535))
    .option(
      '--trust-proxy <network...>',
      'proxies in front whose X-Forwarded-For and -Proto are believed',
      proxyNetwork,
    )
    .option('--public-url <url>', 'where browsers reach the service; with https its cookies go nowhere else', publicUrl)
    .option('--data-dir <folder>', 'where the database and the access key are kept')
    .option('--max-upload <bytes>', 'the largest log to take, such as 2GiB (default: 1GiB)', byteCount)
    .option('--upload-idle <seconds>', 'give a log up of which nothing comes for so long (default: 60)', idleSeconds)
    .option('--workers <number>', 'threads that read and judge logs (default: one a core)', wholeNumber(1, 64))
    .addOption(
      new Option('--log-level <level>', 'what to log to standard error (default: info)').choices([
        'error',
        'warn',
        'info',
        'debug',
      ]),
    )
    .option('--stop-with-input', 'stop when standard input ends, as it does when the program that started it is gone')
    .option('--new-key', 'make a new access key; the old one and all sessions end')
    .addHelpText(
      'after',
      examples(
        'jade-fence service run',
        'jade-fence service run --port 0 --data-dir /srv/jade-fence',
        'DATABASE_URL=postgres://fence@db.example/fence jade-fence service run',
      ),
    )
    .action(
      act(async ({ show }, given: Given) => {
        // The one place where the client knows the service: as the program to start.
        const { serve, StartError } = await import('@jade-fence/service');
        try {
          const { stopWithInput, ...options } = given;
          const service = await serve(options);
          const { url, gateUrl, keyFile, keyFileExists, newKey, keptRevision } = service;
          const shown = { url, gateUrl, keyFile, keyFileExists, newKey: newKey !== undefined };
          show({ ...shown, keptRevision: keptRevision ?? null }, formatStarted);
          await interrupted(stopWithInput ?? false);
          await service.stop();
          return EXIT.done;
        } catch (error) {
          if (!(error instanceof StartError)) throw error;
          throw new Failure(EXIT.service, { code: error.code, detail: error.message, remedy: error.remedy });
        }
      }),
    );
};

const idleSeconds = (text: string): number => wholeNumber(1, 86_400)(text) * 1000;

/** An address or a network, as Express takes those of proxies; several are gathered. */
function proxyNetwork(text: string, before: string[] = []): string[] {
  const range = tryRange(text);
  if (isRangeFault(range) || text.includes('-'))
    throw new InvalidArgumentError('Write an address or a network, such as 10.10.1.4 or 10.10.1.0/28.');
  return [...before, text];
}

function publicUrl(text: string): string {
  const url = parseUrl(text);
  if (url?.protocol === 'http:' || url?.protocol === 'https:') return url.origin;
  throw new InvalidArgumentError('Write it such as https://fence.fennelhill.example.');
}

async function interrupted(withInput: boolean): Promise<void> {
  await new Promise<void>((resolve) => {
    if (withInput)
      process.stdin
        .on('end', () => resolve())
        .on('error', () => resolve())
        .resume();
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve());
  });
  // Input that is read for its end would keep the process alive behind a signal.
  if (withInput) process.stdin.destroy();
}

function formatStarted(
  service: Pick<RunningService, 'url' | 'gateUrl' | 'keyFile' | 'keyFileExists'> & {
    readonly newKey: boolean;
    readonly keptRevision: number | null;
  },
): string {
  const { url, gateUrl, keyFile, keyFileExists, newKey, keptRevision } = service;
  const away =
    keptRevision === null
      ? ''
      : `The database is away: requests are decided by revision ${keptRevision}, which was kept. All else waits for the database.\n`;
  const key = `${newKey ? 'New access' : 'Access'} key in ${keyFile}`;
  const elsewhere = `The access key of this database was made by another service, and is not in ${keyFile}.\nUse that one’s, or make another with --new-key.`;
  return `${away}Console and API: ${url}\nDecisions for gateways: ${gateUrl}\n${keyFileExists ? key : elsewhere}`;
}
