import { useInfiniteQuery } from '@tanstack/react-query';
import { type FormEvent, useDeferredValue, useState } from 'react';
import { call } from '../api/call.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { useEntriesEdit } from './use-entries-edit.js';

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
  const { edit, last, undo } = useEntriesEdit(name);
  const rows = pages.data?.pages.flatMap((page) => page.entries);
  return (
    <Part title="Entries">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <TextField label="Search entries and notes" value={search} onChange={setSearch} />
        {mayEdit && <AddEntry edit={edit} />}
      </div>
      {(pages.error ?? undo.error) && <ErrorMessage error={(pages.error ?? undo.error) as Error} />}
      {edit.error && <ErrorMessage error={edit.error} />}
      {last && (
        <p role="status" className="mb-2">
          {last.did} <Button onClick={() => undo.mutate(undefined)}>Undo</Button>
        </p>
      )}
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
                    onClick={() =>
                      edit.mutate({
                        change: { remove: [entry] },
                        did: `${entry} was taken out.`,
                        undo: { add: [{ entry, ...(note !== null && { note }), ...(until !== null && { until }) }] },
                      })
                    }
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

function AddEntry({ edit }: { readonly edit: ReturnType<typeof useEntriesEdit>['edit'] }) {
  const [entry, setEntry] = useState('');
  const [note, setNote] = useState('');
  const [until, setUntil] = useState('');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const added = { entry: entry.trim(), ...(note && { note }), ...(until && { until: `${until}T00:00:00Z` }) };
    edit.mutate(
      { change: { add: [added] }, did: `${added.entry} was added.`, undo: { remove: [added.entry] } },
      {
        onSuccess: () => {
          setEntry('');
          setNote('');
        },
      },
    );
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
      <TextField label="Entry" required value={entry} onChange={setEntry} />
      <TextField label="Note" value={note} onChange={setNote} />
      <TextField label="Until" type="date" value={until} onChange={setUntil} />
      <Button type="submit" disabled={edit.isPending}>
        Add
      </Button>
      {edit.data && edit.data.present.length > 0 && <span role="status">It is there already.</span>}
    </form>
  );
}
