import { useParams, useSearchParams } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { Differences } from '../draft/differences.js';
import { editsIn } from '../draft/edits.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { History } from './history.js';
import { ObjectHistory } from './object-history.js';

const MOST = 500;

/** What was published and what each revision changed; or the versions of one object. */
export default function HistoryPage() {
  const { kind, name } = useParams();
  return kind !== undefined && name !== undefined ? (
    <ObjectHistory key={`${kind} ${name}`} {...{ kind, name }} />
  ) : (
    <Revisions />
  );
}

function Revisions() {
  const [search, setSearch] = useSearchParams();
  const draft = useFetched('GET /draft');
  const edits = useFetched('GET /differences').data;
  if (draft.error && !draft.data) return <ErrorMessage error={draft.error} />;
  if (!draft.data) return <Waiting what="the history" />;
  const open = Number(search.get('revision') ?? draft.data.published ?? 0);
  return (
    <Page title="History" about="What was published: by whom, why, and what it changed.">
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(24rem,2fr)_minmax(24rem,3fr)] gap-8">
        <History
          draft={draft.data.draft}
          lost={edits ? editsIn(edits) : []}
          open={open}
          most={MOST}
          onOpen={(revision) => setSearch({ revision: String(revision) })}
        />
        {open > 0 && <Changed revision={open} />}
      </div>
    </Page>
  );
}

/** What a revision changed of the one before it. */
function Changed({ revision }: { readonly revision: number }) {
  const query = { from: revision === 1 ? 'nothing' : String(revision - 1), to: String(revision), text: true };
  const difference = useFetched('GET /differences', { query }, { keep: true });
  return (
    <Part title={`What revision ${revision} changed`}>
      {difference.error && <ErrorMessage error={difference.error} />}
      {difference.data && <Differences difference={difference.data} onDiscard={undefined} />}
    </Part>
  );
}
