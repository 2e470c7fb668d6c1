import { hasEnded, type ImportBody, pathOf } from '@jade-fence/contract';
import type { Response } from 'express';
import type { Knex } from 'knex';
import { Refusal, refusal } from '../../fault/refusal.js';
import { refusalOfEnded } from '../../import/refusals.js';
import { findImport } from '../../import/store.js';
import type { Import } from '../../model/import.js';
import { pace } from '../pace.js';
import type { ProgressWatch } from '../progress.js';

/** An import as answers have it. */
export function importBody(job: Import): ImportBody {
  const { id, name, state, actor, size, received, held, done, failure } = job;
  const total = held ? received : size;
  return {
    ...{ id, log: name, state, actor, received, held, done, total },
    ...pace(job, total),
    failure: failure && {
      code: failure.code,
      detail: failure.detail,
      remedy: failure.remedy ?? null,
      issues: failure.issues ?? [],
    },
    startedAt: job.startedAt.toISOString(),
    finishedAt: job.finishedAt?.toISOString() ?? null,
  };
}

/** Waits until an import is done; where it comes to no log, that is thrown. */
export async function importEnded(knex: Knex, watch: ProgressWatch, id: number, response: Response): Promise<void> {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  while (!gone.signal.aborted && !watch.closing) {
    const news = watch.news({ kind: 'import', id }, gone.signal);
    // When the database is away for a while, this is checked later.
    const job = await findImport(knex, id).catch((error) => {
      if (error instanceof Refusal) throw error;
      return undefined;
    });
    if (job?.state === 'done') return;
    if (job && hasEnded(job.state)) throw refusalOfEnded(job);
    await news;
  }
  if (!watch.closing) throw refusal('aborted/goes-on', { id });
  throw refusal('service-stops', { id, path: pathOf('GET /imports/:id', { params: { id } }) });
}
