import { Part } from '../frame/page.js';
import { clock } from '../marks/clock.js';
import type { Seen } from './use-watch.js';

interface WatchedProps {
  readonly seen: readonly Seen[];
  /** When the checks were last run, in milliseconds. */
  readonly at: number;
}

/** What a watch on checks saw; the first failure is marked, since that is the moment which one waits for. */
export function Watched({ seen, at }: WatchedProps) {
  const first = seen.find(({ what }) => what === 'failed');
  return (
    <Part title="Watching">
      <p className="text-soft tabular-nums">
        Run again every few seconds; last at {clock(new Date(at).toISOString())}.
      </p>
      <ol aria-label="What changed" aria-live="polite">
        {seen.map((each) => (
          <li key={`${each.at} ${each.name}`} className={each === first ? 'font-semibold' : ''}>
            <span className="text-soft tabular-nums">{clock(each.at)}</span>{' '}
            <span aria-hidden="true">{each.what === 'failed' ? '✗' : '✓'}</span>{' '}
            <code className="font-mono">{each.name}</code>{' '}
            {each.what === 'failed' ? 'is not as expected' : 'is as expected again'}
            {each === first && <span className="ml-1 rounded-sm bg-plum-wash px-1">the first to fail</span>}
          </li>
        ))}
      </ol>
      {seen.length === 0 && <p>Nothing has failed so far.</p>}
    </Part>
  );
}
