import type { DraftBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { MendButton } from '../checks/mend-button.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { History } from '../history/history.js';
import { CodeText } from '../marks/code-text.js';
import { Findings } from '../marks/findings.js';
import { PlaceOfFinding } from '../review/place.js';
import { BringFiles } from './bring-files.js';
import { Differences } from './differences.js';
import { editsIn } from './edits.js';
import { PublishForm } from './publish-form.js';

const LOOK_MS = 5000;
/** So many revisions are listed here; the history has all. */
const RECENT = 5;

/** The edits, what prevents publishing them, and what was published before. */
export default function DraftPage() {
  const [search, setSearch] = useSearchParams();
  const [from, to] = [search.get('from') ?? 'published', search.get('to') ?? 'draft'];
  const draft = useFetched('GET /draft', {}, { every: LOOK_MS });
  const difference = useFetched('GET /differences', { query: { from, to, text: true } }, { keep: true });
  const navigate = useNavigate();
  const mayEdit = useMay('editor');
  const number = draft.data?.draft;
  const discard = useDeed((one: { kind?: DocumentKind; name?: string }) =>
    // What somebody edited since this was shown is not taken back with it.
    call('POST /draft/discard', { body: { ...one, draft: number } }),
  );
  const edits = useFetched('GET /differences').data;
  const lost = edits ? editsIn(edits) : [];
  if (draft.error && !draft.data) return <ErrorMessage error={draft.error} />;
  if (!draft.data) return <Waiting what="the draft" />;
  const ours = from === 'published' && to === 'draft';
  const state =
    draft.data.published === null ? 'Nothing is published yet' : `Revision ${draft.data.published} is in force`;
  return (
    <Page
      title="Draft"
      about={`${state}; ${draft.data.changed ? 'the draft has changes.' : 'the draft has no changes.'}`}
      acts={
        ours &&
        mayEdit &&
        draft.data.changed &&
        draft.data.published !== null && (
          <AskButton
            consequence="All edits since the last publish are taken back, those of others too. The history of each object keeps them."
            lost={lost}
            does="Discard all edits"
            onConfirm={() => discard.mutate({})}
          >
            Discard all edits
          </AskButton>
        )
      }
    >
      {discard.error && <ErrorMessage error={discard.error} />}
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(24rem,3fr)_minmax(20rem,2fr)] gap-8">
        <Part
          title={ours ? 'What is different' : `From ${from} to ${to}`}
          acts={!ours && <Button onClick={() => setSearch({})}>Back to the draft</Button>}
        >
          {difference.error && <ErrorMessage error={difference.error} />}
          {difference.data && (
            <Differences
              difference={difference.data}
              onDiscard={ours && mayEdit && draft.data.published !== null ? (one) => discard.mutate(one) : undefined}
            />
          )}
        </Part>
        <div>
          <Part title="Before it is published">
            <Readiness draft={draft.data} />
          </Part>
          <PublishForm draft={draft.data} />
          {mayEdit && <BringFiles />}
          <History
            draft={draft.data.draft}
            lost={lost}
            onOpen={(revision) => navigate(`/history?revision=${revision}`)}
            most={RECENT}
          />
          <p className="-mt-4">
            <Link to="/history" className="text-iris hover:underline">
              The whole history
            </Link>
          </p>
        </div>
      </div>
    </Page>
  );
}

function Readiness({ draft: { newFindings, checks } }: { readonly draft: DraftBody }) {
  const mayEdit = useMay('editor');
  const cells = checks.flatMap((check) => check.cells.map((cell) => ({ ...cell, check: check.check })));
  const failing = cells.filter(({ holds }) => !holds);
  return (
    <>
      <p className="mb-1">
        {cells.length === 0
          ? 'There are no checks.'
          : failing.length === 0
            ? `✓ All ${cells.length} cells of the checks are as expected.`
            : `✗ ${failing.length} of ${cells.length} cells of the checks not as expected; that stops publishing.`}
      </p>
      {failing.map(({ check, probe, destination, expected, verdict, summary, policy, mends }) => (
        <div key={`${check} ${probe} ${destination}`} className="mb-1 border-l-2 border-plum bg-plum-wash px-2 py-0.5">
          <p>
            <code className="font-mono">
              {check}: {probe} at {destination}
            </code>{' '}
            expected {expected.verdict}, got {verdict}. <CodeText text={summary} />
          </p>
          {mends.map(({ mend, what }) => (
            <p key={what} className="flex flex-wrap items-center gap-2">
              <span>
                <CodeText text={what} />
              </span>
              {mend && policy && mayEdit && <MendButton {...{ policy, mend }} />}
            </p>
          ))}
        </div>
      ))}
      <p className="mt-2 mb-1">
        {newFindings.length === 0
          ? '✓ No new findings of the review.'
          : `${newFindings.length === 1 ? 'One new finding' : `${newFindings.length} new findings`} of the review:`}
      </p>
      <Findings
        findings={newFindings}
        onMend={mayEdit ? 'in the draft' : undefined}
        above={(finding) => <PlaceOfFinding finding={finding} />}
      />
      <p className="mt-2">
        <Link to="/review" className="text-iris hover:underline">
          All that the review finds
        </Link>
      </p>
    </>
  );
}
