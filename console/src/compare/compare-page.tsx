import type { ChangesQuery, ReplayBody } from '@jade-fence/contract';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { call } from '../api/call.js';
import { useFetched } from '../api/fetching.js';
import { useReplays } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { targetOf } from '../requests/request-table.js';
import { VerdictFlow } from './verdict-flow.js';

/** Two replays of the same log, request by request. */
export default function ComparePage() {
  const [search, setSearch] = useSearchParams();
  const number = (key: string) => Number(search.get(key)) || undefined;
  const done = useDone([number('before'), number('after')]);
  const after = number('after') ?? done[0]?.id;
  const newer = done.find(({ id }) => id === after);
  const same = done.filter(({ logs, id }) => id !== after && logs.join() === newer?.logs.join());
  const before = number('before') ?? same[0]?.id;
  const go = (change: Record<string, string | undefined>) =>
    setSearch((old) => {
      const next = new URLSearchParams(old);
      for (const [key, value] of Object.entries(change)) value === undefined ? next.delete(key) : next.set(key, value);
      return next;
    });
  const pick = (key: string, shown: number | undefined, from: readonly ReplayBody[]) => (
    <Choice
      label={key === 'before' ? 'Before' : 'After'}
      value={shown ?? 0}
      empty="none"
      options={from.map((replay) => ({
        value: replay.id,
        label: `#${replay.id} ${ofWhat(replay)}`,
        detail: clock(replay.startedAt),
      }))}
      onChange={(id) => go({ [key]: String(id), ...(key === 'after' && { before: undefined }) })}
    />
  );
  return (
    <Page
      title="Compare"
      about="What changed between two replays of one log, request by request"
      acts={
        <>
          {pick('before', before, same)}
          {pick('after', after, done)}
        </>
      }
    >
      {before === undefined || after === undefined ? (
        <p className="text-soft">It takes two replays of one log. Edit a rule, or replay another revision.</p>
      ) : (
        <Changes
          {...{ before, after }}
          // The service refuses a verdict that is none.
          was={(search.get('was') ?? undefined) as ChangesQuery['was']}
          is={(search.get('is') ?? undefined) as ChangesQuery['is']}
          onChoose={(was, is) => go({ was, is })}
        />
      )}
    </Page>
  );
}

/** The replays that are done, the newest first: those that are in the list, and those that are named. */
function useDone(named: readonly (number | undefined)[]): readonly ReplayBody[] {
  const listed = useReplays().data?.replays;
  const unlisted = (id: number | undefined) =>
    id !== undefined && listed !== undefined && !listed.some((each) => each.id === id) && { params: { id } };
  const others = [
    useFetched('GET /replays/:id', unlisted(named[0])).data,
    useFetched('GET /replays/:id', unlisted(named[1])).data,
  ];
  const all = new Map([...(listed ?? []), ...others].flatMap((each) => (each ? [[each.id, each] as const] : [])));
  return [...all.values()].filter(({ state }) => state === 'done').sort((a, b) => b.id - a.id);
}

const ofWhat = ({ revision, logs }: ReplayBody): string =>
  `${logs.join(', ')}, ${revision === null ? 'draft' : `revision ${revision}`}`;

interface ChangesProps {
  readonly before: number;
  readonly after: number;
  readonly was: ChangesQuery['was'];
  readonly is: ChangesQuery['is'];
  readonly onChoose: (was: string | undefined, is: string | undefined) => void;
}

function Changes({ before, after, was, is, onChoose }: ChangesProps) {
  const text = useFetched('GET /replays/:id/comparison', { params: { id: after }, query: { with: before } });
  if (text.error && !text.data) return <ErrorMessage error={text.error} />;
  if (!text.data) return <Waiting what="the comparison" />;
  const { requests, changed, decidedElsewhere, changes, causes, of } = text.data;
  const decided = (each: { policy: string | null; rule: string | null }) =>
    each.policy === null ? 'uncovered' : `${each.policy} / ${each.rule ?? 'default'}`;
  return (
    <>
      <p className="mb-3 text-head">
        <strong className="tabular-nums">{count(changed)}</strong> of {count(requests)} requests have another verdict;{' '}
        {count(decidedElsewhere)} have the same by another rule.
        {of.before.resolutions !== of.after.resolutions && ' Other addresses of hosts were known, too.'}
      </p>
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(14rem,1fr)_minmax(20rem,2fr)] gap-6">
        <Part title="From what to what">
          <VerdictFlow changes={changes} onChoose={onChoose} />
          <Table
            label="Changes of verdicts"
            columns={['was', 'is', { title: 'requests', right: true }]}
            rows={changes.map((change) => ({
              key: `${change.was} ${change.is}`,
              tone: change.was === was && change.is === is ? 'bg-chosen' : '',
              cells: [
                <Gate key="was" verdict={change.was} />,
                <Gate key="is" verdict={change.is} />,
                <button
                  key="count"
                  type="button"
                  className="cursor-pointer text-iris hover:underline"
                  onClick={() => onChoose(change.was, change.is)}
                >
                  {count(change.requests)}
                </button>,
              ],
            }))}
            empty="No verdict changed."
          />
        </Part>
        <Part title="Because of which rules">
          <Table
            label="Causes"
            columns={['decided before', 'decides now', { title: 'requests', right: true }]}
            rows={causes.slice(0, 30).map((cause, at) => ({
              key: at,
              cells: [
                <code key="b" className="font-mono">
                  {decided(cause.before)}
                </code>,
                <code key="a" className="font-mono">
                  {decided(cause.after)}
                </code>,
                count(cause.requests),
              ],
            }))}
          />
        </Part>
      </div>
      {changed > 0 && <ChangedRequests {...{ before, after, was, is }} />}
    </>
  );
}

function ChangedRequests({ before, after, was, is }: Omit<ChangesProps, 'onChoose'>) {
  const query = { with: before, limit: 100, was, is };
  const pages = useInfiniteQuery({
    queryKey: ['requests', 'changed', after, query],
    queryFn: ({ pageParam }) =>
      call('GET /replays/:id/comparison/requests', { params: { id: after }, query: { ...query, after: pageParam } }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
  });
  const rows = pages.data?.pages.flatMap((page) => page.requests);
  return (
    <Part title="The requests">
      {pages.error && <ErrorMessage error={pages.error} />}
      <Table
        label="Requests that changed"
        columns={['number', 'client', 'country', 'request', 'was', 'is', 'by']}
        rows={rows?.map((each) => ({
          key: each.number,
          cells: [
            <Link
              key="n"
              to={`/policies/${each.policy ?? ''}?replay=${after}&request=${each.number}`}
              className="font-mono text-iris hover:underline"
            >
              {each.number}
            </Link>,
            <code key="c">{each.client ?? '–'}</code>,
            each.country ?? '–',
            <code key="r" className="break-all">
              {targetOf(each)}
            </code>,
            <Gate key="w" verdict={each.before.verdict} />,
            <Gate key="i" verdict={each.verdict} />,
            <code key="by">{each.rule ?? 'default'}</code>,
          ],
        }))}
      />
      {pages.hasNextPage && <Button onClick={() => pages.fetchNextPage()}>More</Button>}
    </Part>
  );
}
