import { statSync } from 'node:fs';
import { basename } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { LogBody } from '@jade-fence/service/bodies';
import type { Client } from '../client/client.js';
import { upload } from '../client/upload.js';
import { unreadable } from '../client/workspace-files.js';
import type { Context } from '../context.js';
import { Failure } from '../failure.js';
import { startProgress } from '../progress.js';

export interface ImportOrder {
  /** A file, or `-` for standard input. */
  readonly file: string;
  readonly name: string;
  readonly format?: string | undefined;
  /** The columns of fields, each as `FIELD=COLUMN`. */
  readonly column?: readonly string[] | undefined;
  readonly zone?: string | undefined;
  /** A mapping that the service keeps. */
  readonly mapping?: string | undefined;
  /** What to leave out of what is stored. */
  readonly redact?: readonly string[] | undefined;
}

/** What passes: the service, its database or a worker of it went away. */
const PASSING = ['service-unreachable', 'worker-lost', 'database-away'];
const MOST_TRIES = 3;
const WAIT_MS = 60_000;
const LOOK_EVERY_MS = 500;

/**
 * Sends a log to the service, with a bar where somebody watches. Nothing stays of an import that the service did not end;
 * a file is sent again when the service is back.
 */
export async function sendLog(context: Context, order: ImportOrder): Promise<LogBody> {
  const { client, terminal } = context;
  for (let tries = 1; ; tries++) {
    const attempt = await tryToSend(context, order);
    if ('log' in attempt) return attempt.log;
    const { failure, begun } = attempt;
    const taken = failure.body.code === 'log-name-taken' && tries > 1;
    // The first answer may have been lost, and not the log.
    const log = taken ? await sameLog(context, order) : undefined;
    if (log) return log;
    const passes = begun && PASSING.includes(failure.body.code);
    if (!passes || order.file === '-' || tries === MOST_TRIES) throw failure;
    terminal.err(`${failure.body.detail} Waiting for the service, to send the log again …`);
    await untilReady(client, failure);
    terminal.err('It is there; sending the log again.');
  }
}

type Attempt = { readonly log: LogBody } | { readonly failure: Failure; readonly begun: boolean };

/** Sends the log once. What is no failure of the service's is thrown. */
async function tryToSend({ client, terminal }: Context, { file, ...query }: ImportOrder): Promise<Attempt> {
  const progress = startProgress(terminal, 'Importing', 'MiB');
  const mib = (bytes: number | undefined) => (bytes === undefined ? undefined : Math.ceil(bytes / 1024 ** 2));
  let begun = false;
  try {
    const log = await upload<LogBody>(client, {
      path: '/api/logs',
      query,
      from: file === '-' ? process.stdin : file,
      onProgress: (sent, size) => {
        begun = true;
        progress.update(mib(sent) as number, mib(size));
      },
    });
    return { log };
  } catch (error) {
    if (error instanceof Failure) return { failure: error, begun };
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT' || code === 'EACCES' || code === 'EISDIR')
      throw unreadable(file, error as NodeJS.ErrnoException);
    throw error;
  } finally {
    progress.stop();
  }
}

/** The log of the name, where it is of as many bytes as the file. Of a packed file that cannot be told. */
async function sameLog({ client }: Context, { file, name }: ImportOrder): Promise<LogBody | undefined> {
  const log = await client.get<LogBody>(`/api/logs/${encodeURIComponent(name)}`);
  return log.bytes === statSync(file).size ? log : undefined;
}

async function untilReady(client: Client, failure: Failure): Promise<void> {
  for (const end = Date.now() + WAIT_MS; Date.now() < end; await sleep(LOOK_EVERY_MS))
    if (
      await client.get('/ready').then(
        () => true,
        () => false,
      )
    )
      return;
  throw failure;
}

/** A name for a log from its file's: `Week 46.jsonl` becomes `week-46`. */
export function logNameOf(file: string): string {
  const stem = basename(file)
    .replace(/\.gz$/i, '')
    .replace(/\.(?:jsonl|ndjson|json|log|txt|csv|tsv|har)$/i, '');
  return (
    stem
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 64) || 'log'
  );
}
