import { useState } from 'react';
import { useFetched } from '../api/fetching.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { count } from '../marks/count.js';
import { EditedObject } from './edited-object.js';

/** Lists that are longer than this are not edited as one text: it would take seconds to read at each letter. */
const MOST_ENTRIES = 2000;

/** All of a list as a form and as its text, fetched when it is opened. */
export function ListText({ name, entries }: { readonly name: string; readonly entries: number }) {
  const [isOpen, setOpen] = useState(false);
  const stored = useFetched('GET /objects/:kind/:name', isOpen && { params: { kind: 'list', name } });
  if (entries > MOST_ENTRIES)
    return (
      <p className="mt-2 text-soft">
        A list of {count(entries)} entries is changed by its entries here; its note and what it includes, as a file.
      </p>
    );
  return (
    <details className="mt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer text-iris hover:underline">Its note, what it includes, and its text …</summary>
      <div className="mt-2">
        {stored.error && <ErrorMessage error={stored.error} />}
        {isOpen && stored.isPending && <Waiting what="the list" />}
        {stored.data && <EditedObject kind="list" name={name} stored={stored.data} mayEdit />}
      </div>
    </details>
  );
}
