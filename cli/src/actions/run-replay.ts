import { setTimeout as sleep } from 'node:timers/promises';
import { hasEnded, type LogFilterQuery, type ReplayBody, type ReplayOrder } from '@jade-fence/contract';
import type { SourceFile } from '@jade-fence/core/workspace';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { startProgress } from '../progress.js';

export interface Order {
  readonly logs: readonly string[];
  /** The state of the workspace to judge by; undefined: the draft. */
  readonly state: string | undefined;
  readonly policy: string | undefined;
  readonly at: string | undefined;
  /** Which requests; all by default. */
  readonly only: LogFilterQuery;
  /** What to judge by in place of what the service holds of the same names. */
  readonly files: readonly SourceFile[];
}

const AGAIN_MS = 500;

/** Has the service run a replay, and waits until it is done. An interrupt cancels it. */
export async function runReplay(context: Context, order: Order): Promise<ReplayBody> {
  const { client } = context;
  let id: number | undefined;
  let isOurs = false;
  const cancel = () => {
    isOurs = true;
    if (id !== undefined) void client.call('POST /replays/:id/cancel', { params: { id } }).catch(() => undefined);
  };
  // From before it is ordered: an interrupt that comes with the answer cancels it too.
  process.once('SIGINT', cancel);
  try {
    const ordered = await client.call('POST /replays', { body: bodyOf(order) });
    id = ordered.id;
    if (isOurs) cancel();
    const replay = await watchReplay(context, ordered);
    if (replay.state === 'done') return replay;
    if (replay.state === 'cancelled')
      throw failure(isOurs ? EXIT.interrupted : EXIT.refused, 'replay-cancelled', { id });
    throw failure(EXIT.refused, 'replay-failed', { id, failure: replay.failure });
  } finally {
    process.off('SIGINT', cancel);
  }
}

function bodyOf({ logs, only, files, ...order }: Order): ReplayOrder {
  const some = Object.values(only).some((value) => value !== undefined);
  const shown = Object.fromEntries(Object.entries(order).filter(([, value]) => value !== undefined));
  return { ...shown, logs, ...(some && { only }), ...(files.length > 0 && { files }) };
}

/** Waits until a replay has ended, with a bar where somebody watches. */
export async function watchReplay({ client, terminal }: Context, begun: ReplayBody): Promise<ReplayBody> {
  const progress = startProgress(terminal, 'Replaying', 'requests');
  let replay = begun;
  try {
    while (!hasEnded(replay.state)) {
      for await (const shown of client.events('GET /replays/:id/progress', { params: { id: replay.id } })) {
        replay = shown;
        progress.update(replay.done, replay.total);
      }
      // The stream ends with the replay, or with a service that stops; another may go on with it.
      if (!hasEnded(replay.state)) await sleep(AGAIN_MS);
    }
  } finally {
    progress.stop();
  }
  return replay;
}
