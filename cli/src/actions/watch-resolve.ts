import { setTimeout as sleep } from 'node:timers/promises';
import { hasEnded, type ResolveBody } from '@jade-fence/contract';
import { isAway, untilReady } from '../client/until-ready.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { startProgress } from '../progress.js';

const AGAIN_MS = 500;

/** Waits until hosts are looked up, with a bar where somebody watches. It outlasts the service that it began in. */
export async function watchResolve({ client, terminal }: Context, begun: ResolveBody): Promise<ResolveBody> {
  const { id } = begun;
  const progress = startProgress(terminal, 'Looking up', begun.by === 'dns' ? 'hosts' : 'parts');
  let job = begun;
  try {
    while (!hasEnded(job.state)) {
      try {
        for await (job of client.events('GET /resolves/:id/progress', { params: { id } }))
          if (job.total !== null) progress.update(job.done, job.total);
      } catch (error) {
        // The service may be away for a while.
        if (!isAway(error)) throw error;
        await untilReady(client, error);
      }
      if (!hasEnded(job.state)) await sleep(AGAIN_MS);
    }
  } finally {
    progress.stop();
  }
  if (job.failure) throw new Failure(EXIT.refused, { ...job.failure, remedy: job.failure.remedy ?? undefined });
  return job;
}
