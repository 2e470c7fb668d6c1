import type { ReplayBody } from '@jade-fence/service/bodies';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

interface Replays {
  readonly replays: readonly ReplayBody[];
}

/** Follows a replay that is under way by the service's events, and keeps the list of replays up to date with them. */
export function useProgress(replay: number): void {
  const client = useQueryClient();
  useEffect(() => {
    const events = new EventSource(`/api/replays/${replay}/progress`);
    events.addEventListener('progress', ({ data }) => {
      const told = JSON.parse(data as string) as ReplayBody;
      client.setQueryData<Replays>(['replays'], (known) => known && withReplay(known, told));
      if (told.state !== 'waiting' && told.state !== 'running') events.close();
    });
    return () => events.close();
  }, [client, replay]);
}

const withReplay = ({ replays }: Replays, told: ReplayBody): Replays => ({
  replays: replays.map((each) => (each.id === told.id ? told : each)),
});
