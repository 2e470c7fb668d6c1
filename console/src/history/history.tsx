import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { clock } from '../marks/clock.js';

interface HistoryProps {
  /** The state of the draft that is shown. */
  readonly draft: number;
  /** The edits of the draft that are not published, in words. */
  readonly lost: readonly string[];
  /** Shows what a revision changed. */
  readonly onOpen: (revision: number) => void;
  /** The one that is shown. */
  readonly open?: number | undefined;
  /** The most that are listed. */
  readonly most: number;
}

/** What was published, the newest first, and the ways back. */
export function History({ draft, lost, onOpen, open, most }: HistoryProps) {
  const revisions = useFetched('GET /revisions', { query: { limit: most } });
  const restore = useDeed((revision: number) => call('POST /draft/restore', { body: { revision, draft } }));
  const mayEdit = useMay('editor');
  const all = revisions.data?.revisions;
  return (
    <Part title="Published before">
      {(revisions.error ?? restore.error) && <ErrorMessage error={(revisions.error ?? restore.error) as Error} />}
      {all?.length === 0 && <p className="text-soft">Nothing yet.</p>}
      <ol>
        {all?.map(({ revision, message, author, approvedBy, publishedAt }) => (
          <li
            key={revision}
            className={`flex flex-wrap items-baseline gap-x-2 border-b border-line/60 py-1 ${revision === open ? 'bg-chosen' : ''}`}
            aria-current={revision === open || undefined}
          >
            <span className="font-mono font-semibold">{revision}</span>
            <span className="min-w-0 flex-1">
              {message}{' '}
              <span className="text-soft">
                {author}
                {approvedBy && `, approved by ${approvedBy}`}, {clock(publishedAt).slice(0, 16)}
              </span>
            </span>
            <Button onClick={() => onOpen(revision)}>What it changed</Button>
            {mayEdit && (
              <AskButton
                consequence={`The draft is what revision ${revision} was, and every edit since is gone from it, those of others too. Nothing is published yet.`}
                lost={lost}
                does={`Restore revision ${revision}`}
                onConfirm={() => restore.mutate(revision)}
              >
                Restore
              </AskButton>
            )}
          </li>
        ))}
      </ol>
    </Part>
  );
}
