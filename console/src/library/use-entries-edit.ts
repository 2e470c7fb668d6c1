import type { EntriesChange } from '@jade-fence/contract';
import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';

/** Entries that are to come into a list and to go out of it, and what takes that back. */
interface EntriesEdit {
  readonly change: EntriesChange;
  /** In words, such as «203.0.113.7 was taken out». */
  readonly did: string;
  readonly undo: EntriesChange;
}

/** Edits of the entries of a list, the last of which can be taken back. */
export function useEntriesEdit(list: string) {
  const [last, setLast] = useState<Pick<EntriesEdit, 'did' | 'undo'>>();
  const edit = useDeed(async ({ change, did, undo }: EntriesEdit) => {
    const changed = await call('PATCH /lists/:name/entries', { params: { name: list }, body: change });
    // What was there already was not added by this, and is not taken out with it.
    const present = new Set(changed.present);
    const remove = undo.remove?.filter((entry) => !present.has(entry));
    const isNothing = (remove ?? []).length === 0 && (undo.add ?? []).length === 0;
    setLast(isNothing ? undefined : { did, undo: { ...undo, ...(remove && { remove }) } });
    return changed;
  });
  const undo = useDeed(async () => {
    if (!last) return;
    await call('PATCH /lists/:name/entries', { params: { name: list }, body: last.undo });
    setLast(undefined);
  });
  return { edit, last, undo };
}
