import type { ComparisonBody, DraftBody, ReplayBody } from '@jade-fence/service/bodies';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { call } from '../api/call.js';
import { useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';

const LOOK_MS = 150;

/** What the draft would change, against what is published, on a log. */
export interface DraftEffect {
  readonly log: string;
  /** What it is compared with, in words. */
  readonly against: string;
  readonly comparison: ComparisonBody;
}

/**
 * Replays the draft whenever it changed, and compares it with what is published; where nothing is yet, with the replay
 * before. Only on logs that are replayed in about a second.
 */
export function useEffectOfDraft(replays: readonly ReplayBody[], log: string | undefined) {
  const draft = useFetched<DraftBody>('/api/draft').data;
  const client = useQueryClient();
  const mayReplay = useMay('editor');
  // Before the first publish the draft is compared with itself, so that there is something to see after an edit only.
  const first = useRef<number>(undefined);
  first.current ??= draft?.draft;
  const edited = draft && (draft.published === null ? draft.draft !== first.current : draft.changed);
  return useQuery({
    queryKey: ['effect', draft?.draft, draft?.published, log],
    queryFn: async (): Promise<DraftEffect | null> => {
      const [state, known] = [draft as DraftBody, log as string];
      const { before, after } = remembered(state, known) ?? (await replayed(replays, state, known));
      await client.invalidateQueries({ queryKey: ['replays'] });
      if (before === undefined) return null;
      const comparison = await call<ComparisonBody>('GET', `/api/replays/${after}/comparison?with=${before}`);
      const against = state.published === null ? 'the replay before' : `revision ${state.published}`;
      return { log: known, against, comparison };
    },
    enabled: mayReplay && edited === true && log !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    refetchInterval: false,
  });
}

interface Pair {
  readonly before: number | undefined;
  readonly after: number;
}

/** The two replays, which a page that is opened again does not order again. */
const keyOf = ({ draft, published }: DraftBody, log: string): string => `effect ${draft} ${published} ${log}`;

function remembered(draft: DraftBody, log: string): Pair | undefined {
  const known = sessionStorage.getItem(keyOf(draft, log));
  return known === null ? undefined : (JSON.parse(known) as Pair);
}

async function replayed(replays: readonly ReplayBody[], draft: DraftBody, log: string): Promise<Pair> {
  const base = await baseOf(replays, draft, log);
  const after = await finished((await call<ReplayBody>('POST', '/api/replays', { log })).id);
  const pair = { before: base?.id, after: after.id };
  sessionStorage.setItem(keyOf(draft, log), JSON.stringify(pair));
  return pair;
}

async function baseOf(
  replays: readonly ReplayBody[],
  { published }: DraftBody,
  log: string,
): Promise<ReplayBody | undefined> {
  const whole = replays.filter(
    ({ state, logs, only, instead, policy }) =>
      state === 'done' && logs.length === 1 && logs[0] === log && !only && instead.length === 0 && policy === null,
  );
  const known = whole.find(({ revision }) => revision === published);
  if (known || published === null) return known;
  return finished((await call<ReplayBody>('POST', '/api/replays', { log, state: 'published' })).id);
}

async function finished(id: number): Promise<ReplayBody> {
  for (;;) {
    const replay = await call<ReplayBody>('GET', `/api/replays/${id}`);
    if (replay.state === 'done') return replay;
    if (replay.state === 'failed' || replay.state === 'cancelled')
      throw new Error(`The replay ${replay.state}${replay.failure ? `: ${replay.failure}` : ''}.`);
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}
