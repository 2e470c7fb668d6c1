import { setTimeout as sleep } from 'node:timers/promises';
import type { ReplayBody } from '@jade-fence/service/bodies';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { startProgress } from '../progress.js';

export interface ReplayOrder {
  readonly log: string;
  readonly policy: string | undefined;
  readonly at: string | undefined;
}

const FIRST_WAIT_MS = 50;
const LONGEST_WAIT_MS = 500;

/** Has the service run a replay, and waits until it is done. An interrupt cancels it. */
export async function runReplay({ client, terminal }: Context, order: ReplayOrder): Promise<ReplayBody> {
  let replay = await client.post<ReplayBody>('/api/replays', order);
  const path = `/api/replays/${replay.id}`;
  const progress = startProgress(terminal, 'Replaying', 'requests');
  const cancel = () => void client.post(`${path}/cancel`, {}).catch(() => undefined);
  process.once('SIGINT', cancel);
  try {
    for (let wait = FIRST_WAIT_MS; replay.state === 'running'; wait = Math.min(wait * 1.5, LONGEST_WAIT_MS)) {
      await sleep(wait);
      replay = await client.get<ReplayBody>(path);
      progress.update(replay.done, replay.total);
    }
  } finally {
    progress.stop();
    process.off('SIGINT', cancel);
  }
  if (replay.state === 'done') return replay;
  const detail =
    replay.state === 'cancelled'
      ? `Replay ${replay.id} was cancelled.`
      : `Replay ${replay.id} failed: ${replay.failure ?? 'the service does not say why.'}`;
  throw new Failure(EXIT.refused, { code: `replay-${replay.state}`, detail });
}

/** The replay with the number, or the newest that is done. */
export async function chosenReplay({ client }: Context, id: number | undefined): Promise<ReplayBody> {
  if (id !== undefined) return client.get<ReplayBody>(`/api/replays/${id}`);
  const { replays } = await client.get<{ replays: ReplayBody[] }>('/api/replays');
  const newest = replays.find((replay) => replay.state === 'done');
  if (newest) return newest;
  throw new Failure(EXIT.refused, {
    code: 'no-replay',
    detail: 'No replay has been run yet.',
    remedy: 'Run one with `jade-fence replay LOG`.',
  });
}
