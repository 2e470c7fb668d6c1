import { basename } from 'node:path';
import type { LogBody } from '@jade-fence/service/bodies';
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

/** Sends a log to the service, with a bar where somebody watches. */
export async function sendLog({ client, terminal }: Context, order: ImportOrder): Promise<LogBody> {
  const { file, ...query } = order;
  const progress = startProgress(terminal, 'Importing', 'MiB');
  const mib = (bytes: number | undefined) => (bytes === undefined ? undefined : Math.ceil(bytes / 1024 ** 2));
  try {
    return await upload<LogBody>(client, {
      path: '/api/logs',
      query,
      from: file === '-' ? process.stdin : file,
      onProgress: (sent, size) => progress.update(mib(sent) as number, mib(size)),
    });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (!(error instanceof Failure) && (code === 'ENOENT' || code === 'EACCES' || code === 'EISDIR'))
      throw unreadable(file, error as NodeJS.ErrnoException);
    throw error;
  } finally {
    progress.stop();
  }
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
