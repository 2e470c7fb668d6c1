import {
  type CallsWith,
  type Carrying,
  type EventOf,
  type ImportBody,
  pathOf,
  type ReplayBody,
} from '@jade-fence/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { CallError, call } from './call.js';

type JobBody = ImportBody | ReplayBody;

interface Replays {
  readonly replays: readonly ReplayBody[];
}

const AGAIN_MS = 1000;

export const isUnderWay = ({ state }: Pick<JobBody, 'state'>): boolean => state === 'waiting' || state === 'running';

/** Follows a replay that is under way by the service's events, and keeps the list of replays up to date with them. */
export function useProgress(replay: number): void {
  const client = useQueryClient();
  useEffect(
    () =>
      follow('GET /replays/:id/progress', { id: replay }, (shown) =>
        client.setQueryData<Replays>(['replays'], (known) => known && withReplay(known, shown)),
      ),
    [client, replay],
  );
}

/** Waits until an import has ended, and reports its progress by the service's events. Throws when it makes no log. */
export async function importEnded(begun: ImportBody, onNews: (shown: ImportBody) => void): Promise<void> {
  const params = { id: begun.id };
  let job = begun;
  while (isUnderWay(job)) {
    await new Promise<void>((resolve) => {
      const close = follow('GET /imports/:id/progress', params, onNews, () => {
        close();
        resolve();
      });
    });
    // Also where the events broke off: the service may be away, and goes on when it is back.
    job = await call('GET /imports/:id', { params }).catch((error) => {
      if (error instanceof CallError && error.status !== 0 && error.status < 500) throw error;
      return job;
    });
    if (isUnderWay(job)) await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
  }
  if (job.state === 'done') return;
  const { failure } = job;
  if (failure === null) throw new CallError(409, 'The import was cancelled; nothing of it is kept.');
  throw new CallError(422, failure.detail, { ...failure, remedy: failure.remedy ?? undefined });
}

/** Tells of a job as its events do, until it or they have ended; answers how to stop that. */
function follow<C extends CallsWith<'events'>>(
  call: C,
  params: { readonly id: number },
  onNews: (shown: EventOf<C>) => void,
  ended = () => {},
): () => void {
  const events = new EventSource(pathOf(call, ...([{ params }] as unknown as Carrying<C>)));
  events.addEventListener('progress', ({ data }) => {
    const shown = JSON.parse(data as string) as EventOf<C>;
    onNews(shown);
    if (isUnderWay(shown as JobBody)) return;
    events.close();
    ended();
  });
  events.addEventListener('error', () => ended());
  return () => events.close();
}

const withReplay = ({ replays }: Replays, shown: ReplayBody): Replays => ({
  replays: replays.map((each) => (each.id === shown.id ? shown : each)),
});
