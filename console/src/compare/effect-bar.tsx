import type { ReplayBody } from '@jade-fence/contract';
import type { UseQueryResult } from '@tanstack/react-query';
import { Link } from 'react-router';
import { count } from '../marks/count.js';
import type { DraftEffect } from './use-effect-of-draft.js';

interface EffectBarProps {
  /** The replay on the screen, over whose logs the effect is counted. */
  readonly of: ReplayBody | undefined;
  readonly effect: UseQueryResult<DraftEffect | null>;
  /** Counts the effect, where the logs are too large to do so unasked; undefined where it is counted already. */
  readonly onAsk: ((extent: Extent) => void) | undefined;
  /** Whether a part can be compared: before the first publish the whole replay is what is compared with. */
  readonly mayTakePart: boolean;
  /** What it is counted over; undefined where it is counted unasked. */
  readonly extent: Extent | undefined;
}

/** All of the logs, or their last day as a sample. */
export type Extent = 'whole' | 'last day';

/** What the edits in the draft come to on the log that is on the screen. */
export function EffectBar({ of, effect, onAsk, mayTakePart, extent }: EffectBarProps) {
  const names = of?.logs.join(', ');
  const logs = extent === 'last day' ? `the last day of ${names}` : names;
  if (effect.isFetching)
    return (
      <span role="status" className="text-soft">
        Comparing the draft on {logs} …
      </span>
    );
  if (onAsk)
    return (
      <span>
        What does the draft change on {logs}?{' '}
        {mayTakePart && (
          <>
            <button
              type="button"
              className="cursor-pointer text-iris hover:underline"
              onClick={() => onAsk('last day')}
            >
              Try its last day
            </button>
            {', or '}
          </>
        )}
        <button type="button" className="cursor-pointer text-iris hover:underline" onClick={() => onAsk('whole')}>
          {mayTakePart ? 'all of it' : 'Try all of it'}
        </button>
      </span>
    );
  if (effect.error && !effect.data) return <span role="alert">{effect.error.message}</span>;
  if (!effect.data) return null;
  const { comparison, against } = effect.data;
  const { changed, requests, changes, before, after } = comparison;
  const to = `/compare?before=${before}&after=${after}`;
  return (
    <span role="status" className={changed > 0 ? 'rounded-sm bg-ochre-wash px-2' : 'text-soft'}>
      On {logs}, against {against}:{' '}
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
