import type { ComparisonBody, DraftBody, ReplayBody } from '@jade-fence/contract';
import { useQuery } from '@tanstack/react-query';
import { call } from '../api/call.js';
import { useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';

const LOOK_MS = 60;
const AGAIN_MS = 30 * 60_000;

/** What the draft would change, against what is published, on some logs. */
export interface DraftEffect {
  /** What it is compared with, in words. */
  readonly against: string;
  readonly comparison: ComparisonBody;
}

/**
 * The effect of the draft on the logs of a replay: replays it whenever it changed, and compares it with what is published;
 * before the first publish with that replay itself, where the draft has changed since. Undefined: none is wanted. `from`: only
 * of requests from then on (RFC 3339).
 */
export function useEffectOfDraft(shown: ReplayBody | undefined, from?: string) {
  const draft = useFetched('GET /draft').data;
  const mayReplay = useMay('editor');
  const base = draft?.published === null && shown?.revision === null ? shown.id : undefined;
  const edited = draft?.published === null ? shown?.outOfDate : draft?.changed;
  const logs = shown?.logs;
  return useQuery({
    queryKey: ['effect', draft?.draft, draft?.published, logs?.join(), base, from],
    queryFn: async (): Promise<DraftEffect | null> => {
      const { published } = draft as DraftBody;
      const effect = (state: string) =>
        call('POST /replays', {
          body: { logs, state, purpose: 'effect', ...(from !== undefined && { only: { from } }) },
        }).then(({ id }) => finished(id));
      if (published === null && base === undefined) return null;
      const was = base ?? (await effect('published')).id;
      const { id } = await effect('draft');
      const comparison = await call('GET /replays/:id/comparison', { params: { id }, query: { with: was } });
      return { against: published === null ? 'the replay before' : `revision ${published}`, comparison };
    },
    enabled: mayReplay && edited === true && logs !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    // Effects are kept for some hours only.
    refetchInterval: AGAIN_MS,
  });
}

async function finished(id: number): Promise<ReplayBody> {
  for (;;) {
    const replay = await call('GET /replays/:id', { params: { id } });
    if (replay.state === 'done') return replay;
    if (replay.state === 'failed' || replay.state === 'cancelled')
      throw new Error(`The replay ${replay.state}${replay.failure ? `: ${replay.failure}` : ''}.`);
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}
