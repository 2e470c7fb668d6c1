import { useInfiniteQuery } from '@tanstack/react-query';
import { type FormEvent, useDeferredValue, useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';

interface EntriesPartProps {
  readonly name: string;
  readonly mayEdit: boolean;
}

/** The entries of a list, page by page: searched, added one by one, taken out. */
export function EntriesPart({ name, mayEdit }: EntriesPartProps) {
  const [search, setSearch] = useState('');
  const wanted = useDeferredValue(search);
  const pages = useInfiniteQuery({
    queryKey: ['entries', name, wanted],
    queryFn: ({ pageParam }) =>
      call('GET /lists/:name/entries', {
        params: { name },
        query: { after: pageParam, limit: 100, search: wanted || undefined },
      }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
  });
  const remove = useDeed((entry: string) =>
    call('PATCH /lists/:name/entries', { params: { name }, body: { remove: [entry] } }),
  );
  const rows = pages.data?.pages.flatMap((page) => page.entries);
  return (
    <Part title="Entries">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <TextField label="Search entries and notes" value={search} onChange={setSearch} />
        {mayEdit && <AddEntry name={name} />}
      </div>
      {(pages.error ?? remove.error) && <ErrorMessage error={(pages.error ?? remove.error) as Error} />}
      <Table
        label="Entries"
        columns={[{ title: '#', right: true }, 'entry', 'note', 'until', ...(mayEdit ? [''] : [])]}
        empty={wanted === '' ? 'It has no entries of its own.' : 'No entry is like that.'}
        rows={rows?.map(({ number, entry, note, until, expired }) => ({
          key: number,
          tone: expired ? 'text-soft line-through' : '',
          cells: [
            number,
            <code key="e" className="font-mono break-all">
              {entry}
            </code>,
            note ?? '',
            until === null ? '' : `${clock(until).slice(0, 16)}${expired ? ', expired' : ''}`,
            ...(mayEdit
              ? [
                  <button
                    key="x"
                    type="button"
                    aria-label={`Take out ${entry}`}
                    className="cursor-pointer px-1 text-soft hover:text-ink"
                    onClick={() => remove.mutate(entry)}
                  >
                    ×
                  </button>,
                ]
              : []),
          ],
        }))}
      />
      {pages.hasNextPage && (
        <div className="py-2">
          <Button onClick={() => pages.fetchNextPage()}>More</Button>
        </div>
      )}
    </Part>
  );
}

function AddEntry({ name }: { readonly name: string }) {
  const [entry, setEntry] = useState('');
  const [note, setNote] = useState('');
  const [until, setUntil] = useState('');
  const add = useDeed(() =>
    call('PATCH /lists/:name/entries', {
      params: { name },
      body: { add: [{ entry: entry.trim(), ...(note && { note }), ...(until && { until: `${until}T00:00:00Z` }) }] },
    }),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(undefined, {
      onSuccess: () => {
        setEntry('');
        setNote('');
      },
    });
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
      <TextField label="Entry" required value={entry} onChange={setEntry} />
      <TextField label="Note" value={note} onChange={setNote} />
      <TextField label="Until" type="date" value={until} onChange={setUntil} />
      <Button type="submit" disabled={add.isPending}>
        Add
      </Button>
      {add.error && <ErrorMessage error={add.error} />}
      {add.data && add.data.present.length > 0 && <span role="status">It is there already.</span>}
    </form>
  );
}
