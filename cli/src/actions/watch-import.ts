import { setTimeout as sleep } from 'node:timers/promises';
import { hasEnded, type ImportBody } from '@jade-fence/contract';
import type { Client } from '../client/client.js';
import { isAway, untilReady } from '../client/until-ready.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure, failure } from '../failure.js';
import { type Progress, startProgress } from '../progress.js';

const AGAIN_MS = 500;

/** Draws the progress of an import, from the service's events. */
export async function drawProgress(
  client: Client,
  id: string | number,
  progress: Progress,
): Promise<ImportBody | undefined> {
  let shown: ImportBody | undefined;
  try {
    for await (shown of client.events('GET /imports/:id/progress', { params: { id } }))
      progress.update(shown.done, shown.total ?? undefined);
  } catch (error) {
    // The service may be away for a while, or may have dropped the import.
    if (!(error instanceof Failure)) throw error;
  }
  return shown;
}

/** Waits until an import has come to a log, with a bar where somebody watches. It outlasts the service that it began in. */
export async function watchImport({ client, terminal }: Context, begun: ImportBody): Promise<void> {
  const { id } = begun;
  const progress = startProgress(terminal, 'Importing', 'MiB');
  let job = begun;
  try {
    while (!hasEnded(job.state)) {
      await drawProgress(client, id, progress);
      job = await client.call('GET /imports/:id', { params: { id } }).catch(async (error) => {
        if (!isAway(error)) throw error;
        await untilReady(client, error);
        return job;
      });
      if (!hasEnded(job.state)) await sleep(AGAIN_MS);
    }
  } finally {
    progress.stop();
  }
  if (job.state !== 'done') throw new Failure(EXIT.refused, failureOf(job));
}

/** Why an import came to no log. */
export function failureOf({ id, failure: reason }: ImportBody): Failure['body'] {
  if (reason === null) return failure(EXIT.refused, 'import-cancelled', { id }).body;
  return { ...reason, remedy: reason.remedy ?? undefined };
}
