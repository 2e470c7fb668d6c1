import { pathOf } from '@jade-fence/contract';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.js';
import { pathTo } from '../draft/differences.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Page } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { VerifyAudit } from './verify-audit.js';

/** Kinds that have a page. */
const SHOWN = ['policy', 'list', 'category', 'application', 'schedule', 'notice', 'corrections', 'probe', 'check'];

/** Who did what, since the beginning; nothing of it is ever changed. */
export default function AuditPage() {
  const [actor, setActor] = useState('');
  const [name, setName] = useState('');
  const pages = useInfiniteQuery({
    queryKey: ['audit', actor, name],
    queryFn: ({ pageParam }) =>
      call('GET /audit', {
        query: { after: pageParam, limit: 200, actor: actor || undefined, name: name || undefined },
      }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
  });
  const rows = pages.data?.pages.flatMap(({ entries }) => entries);
  return (
    <Page
      title="Audit"
      about="Who did what, the oldest first"
      acts={
        <>
          <a href={pathOf('GET /audit.csv')} download className="text-iris hover:underline">
            As CSV
          </a>
          <a href={pathOf('GET /audit.jsonl')} download className="text-iris hover:underline">
            As JSON Lines
          </a>
        </>
      }
    >
      <VerifyAudit />
      <div className="mb-2 flex flex-wrap gap-3">
        <TextField label="Only by" value={actor} onChange={setActor} placeholder="administrator" />
        <TextField label="Only of" value={name} onChange={setName} placeholder="visitor-web" />
      </div>
      {pages.error && <ErrorMessage error={pages.error} />}
      <Table
        label="Audit"
        empty="Nothing is like that."
        columns={['at', 'who', 'did', 'to', 'more']}
        rows={rows?.map(({ id, at, actor: who, action, kind, name: of, detail }) => ({
          key: id,
          cells: [
            <span key="t" className="whitespace-nowrap font-mono">
              {clock(at)}
            </span>,
            who ?? '–',
            action,
            kind !== null && of !== null && SHOWN.includes(kind) ? (
              <Link key="l" to={pathTo(kind, of)} className="text-iris hover:underline">
                {kind} <span className="font-mono">{of}</span>
              </Link>
            ) : (
              `${kind ?? ''} ${of ?? ''}`
            ),
            Object.keys(detail).length === 0 ? '' : <code key="d">{JSON.stringify(detail)}</code>,
          ],
        }))}
      />
      {pages.hasNextPage && <Button onClick={() => pages.fetchNextPage()}>More</Button>}
    </Page>
  );
}
