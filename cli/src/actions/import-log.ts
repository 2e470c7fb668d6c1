import { statSync } from 'node:fs';
import { basename } from 'node:path';
import type { ImportBody, ImportQuery, LogBody } from '@jade-fence/contract';
import { untilReady } from '../client/until-ready.js';
import { upload } from '../client/upload.js';
import { unreadable } from '../client/workspace-files.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { startProgress } from '../progress.js';
import { drawProgress, watchImport } from './watch-import.js';

export interface ImportOrder {
  /** A file, or `-` for standard input. */
  readonly file: string;
  readonly name: string;
  readonly format?: string | undefined;
  /** Where fields are, each as `FIELD=PLACE`. */
  readonly column?: readonly string[] | undefined;
  readonly zone?: string | undefined;
  /** The shape of lines of text. */
  readonly pattern?: string | undefined;
  /** A mapping that the service keeps. */
  readonly mapping?: string | undefined;
  /** What to leave out of what is stored. */
  readonly redact?: readonly string[] | undefined;
}

/** What passes: the service, its database or a worker of it went away. */
const PASSING = ['service-unreachable', 'worker-lost', 'database-away'];
/** The advice about a name that an earlier try may have taken. */
const TAKEN = ['log-name-taken', 'import-under-way'];
const MOST_TRIES = 3;
/** RFC 7240, section 4.1. */
const AT_ONCE = { prefer: 'respond-async' };

/** Has the service import a log, with a bar where somebody watches, and waits until it has. An interrupt cancels it. */
export async function sendLog(context: Context, order: ImportOrder): Promise<LogBody> {
  const { client } = context;
  const log = () => client.call('GET /logs/:name', { params: { name: order.name } });
  return send(context, order, {}, async (sent) => {
    await watchImport(context, sent);
    return log();
  });
}

/** Hands a log over to the service, which imports it by itself. */
export function handOver(context: Context, order: ImportOrder): Promise<ImportBody> {
  return send(context, order, AT_ONCE, async (sent) => sent);
}

/**
 * Sends a log. What the service was lost over before it was all there is sent again when that is back, where it is a file.
 *
 * @param found what to do where an earlier try had come through, and only the answer was lost
 */
async function send<T>(
  context: Context,
  order: ImportOrder,
  headers: Readonly<Record<string, string>>,
  found: (sent: ImportBody) => Promise<T>,
): Promise<T> {
  const { client, terminal } = context;
  for (let tries = 1; ; tries++) {
    const attempt = await tryToSend<T>(context, order, headers);
    if ('answer' in attempt) return attempt.answer;
    const { failure, begun } = attempt;
    const sent = tries > 1 && TAKEN.includes(failure.body.code) ? await sentBefore(context, order) : undefined;
    if (sent) return found(sent);
    const passes = begun && PASSING.includes(failure.body.code);
    if (!passes || order.file === '-' || tries === MOST_TRIES) throw failure;
    terminal.err(`${failure.body.detail} Waiting for the service, to send the log again …`);
    await untilReady(client, failure);
    terminal.err('It is there; sending the log again.');
  }
}

type Attempt<T> = { readonly answer: T } | { readonly failure: Failure; readonly begun: boolean };

/** Sends the log once. What is no failure of the service's is thrown. */
async function tryToSend<T>(
  { client, terminal }: Context,
  { file, ...query }: ImportOrder,
  headers: Readonly<Record<string, string>>,
): Promise<Attempt<T>> {
  const progress = startProgress(terminal, 'Importing', 'MiB');
  let begun = false;
  let cancel = () => {};
  let isInterrupted = false;
  try {
    const answer = (await upload(client, {
      query: query as ImportQuery,
      headers,
      from: file === '-' ? process.stdin : file,
      onProgress: (sent, size) => {
        begun = true;
        progress.update(sent, size);
      },
      onSent: (status) => {
        const id = status?.split('/').at(-1);
        if (id === undefined) return;
        cancel = () => {
          isInterrupted = true;
          void client.call('POST /imports/:id/cancel', { params: { id } }).catch(() => undefined);
        };
        process.once('SIGINT', cancel);
        if (terminal.progress) void drawProgress(client, id, progress);
      },
    })) as T;
    return { answer };
  } catch (error) {
    if (isInterrupted && error instanceof Failure) throw new Failure(EXIT.interrupted, error.body);
    if (error instanceof Failure) return { failure: error, begun };
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT' || code === 'EACCES' || code === 'EISDIR')
      throw unreadable(file, error as NodeJS.ErrnoException);
    throw error;
  } finally {
    process.off('SIGINT', cancel);
    progress.stop();
  }
}

/** The import of the name that was sent before, as it must have been: of as many bytes as the file, and all of them there. */
async function sentBefore({ client }: Context, { file, name }: ImportOrder): Promise<ImportBody | undefined> {
  const { imports } = await client.all('GET /imports');
  const newest = imports.find(({ log }) => log === name);
  const here = newest?.held && newest.received === statSync(file).size;
  return here && newest.state !== 'failed' && newest.state !== 'cancelled' ? newest : undefined;
}

/** A name for a log from its file's: `Week 46.jsonl` becomes `week-46`. */
export function logNameOf(file: string): string {
  const stem = basename(file)
    .replace(/\.(?:gz|zst|tgz)$/i, '')
    .replace(/\.tar$/i, '')
    .replace(/\.(?:jsonl|ndjson|json|log|txt|csv|tsv|har)$/i, '');
  return (
    stem
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 64) || 'log'
  );
}
