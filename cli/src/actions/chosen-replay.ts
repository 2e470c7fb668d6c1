import type { ReplayBody } from '@jade-fence/contract';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** Which replay a command is about. */
export interface WhichReplay {
  /** Its number. */
  readonly replay?: number | undefined;
  /** The newest of this log. */
  readonly log?: string | undefined;
}

/**
 * The replay with the number; else the newest that is done: of the log that is named, or of all that the caller ran. Who
 * has run none gets the newest of all; the answer says which it is.
 */
export async function chosenReplay(context: Context, { replay, log }: WhichReplay): Promise<ReplayBody> {
  if (replay !== undefined) return context.client.call('GET /replays/:id', { params: { id: replay } });
  const [newest] = await newestReplays(context, { log }, 1);
  if (newest) return newest;
  throw failure(EXIT.refused, 'no-replay', { log });
}

/** The newest replays that are done: of a log, or of all that the caller ran, or of all where that is none. */
export async function newestReplays(
  { client }: Context,
  { log }: Pick<WhichReplay, 'log'>,
  limit: number,
): Promise<readonly ReplayBody[]> {
  for (const whose of log === undefined ? [{ mine: true }, {}] : [{ log }]) {
    const query = { state: 'done', limit, ...whose } as const;
    const { replays } = await client.call('GET /replays', { query });
    if (replays.length > 0) return replays;
  }
  return [];
}
