import type { ReplayBody } from '@jade-fence/service/bodies';
import { Link } from 'react-router';
import { useLogs } from '../api/queries.js';
import { count } from '../marks/count.js';
import { useEffectOfDraft } from './use-effect-of-draft.js';

/** Larger logs are replayed when somebody asks for it. */
const MOST_REQUESTS = 200_000;

/** What the edits in the draft come to on the newest log that is small enough, always at hand. */
export function EffectBar({ replays }: { readonly replays: readonly ReplayBody[] }) {
  const logs = useLogs().data?.logs ?? [];
  const log = logs.filter(({ requests }) => requests > 0 && requests <= MOST_REQUESTS).at(-1);
  // The first replay is for whoever uses the console to order.
  const effect = useEffectOfDraft(replays, replays.some(({ state }) => state === 'done') ? log?.name : undefined);
  if (effect.isFetching)
    return (
      <span role="status" className="text-soft">
        Comparing the draft …
      </span>
    );
  if (effect.error && !effect.data) return <span role="alert">{effect.error.message}</span>;
  if (!effect.data) return null;
  const { comparison, against } = effect.data;
  const { changed, requests, changes, before, after } = comparison;
  const to = `/compare?before=${before}&after=${after}`;
  return (
    <span role="status" className={changed > 0 ? 'rounded-sm bg-ochre-wash px-2' : 'text-soft'}>
      Against {against}:{' '}
      {changed === 0 ? (
        'no request changes'
      ) : (
        <Link to={to} className="underline decoration-dotted underline-offset-3">
          {count(changed)} of {count(requests)} requests change (
          {changes
            .slice(0, 2)
            .map((change) => `${count(change.requests)} ${change.was} → ${change.is}`)
            .join(', ')}
          )
        </Link>
      )}
    </span>
  );
}
