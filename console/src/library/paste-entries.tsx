import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import type { ListSort } from '@jade-fence/core/list';
import { useState } from 'react';
import { call, sendFile } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { TextArea } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { Tick } from '../frame/tick.js';
import { count } from '../marks/count.js';
import { entriesOfLines } from './entry-lines.js';

interface PasteEntriesProps {
  readonly name: string;
  readonly of: ListSort;
}

/** This many are added at once, by the service's own bound. */
const MOST_ADDED = 1000;

/** Many entries at once, beside what the list holds or in place of it: pasted, or from a file. */
export function PasteEntries({ name, of }: PasteEntriesProps) {
  const [text, setText] = useState('');
  /** A file that was chosen in place of the text. */
  const [file, setFile] = useState<File>();
  const [skip, setSkip] = useState(false);
  /** How much of the file is sent, from 0 to 1; it is read when all of it is there. */
  const [sent, setSent] = useState(0);
  const more = entriesOfLines(text);
  const append = useDeed(() => call('PATCH /lists/:name/entries', { params: { name }, body: { add: more } }));
  const bring = useDeed((file: Blob) =>
    sendFile('PUT /lists/:name/entries', file, { params: { name }, query: { of, skip } }, { onProgress: setSent }),
  );
  return (
    <Disclosure>
      <DisclosureButton className="cursor-pointer text-iris hover:underline">
        Add or replace many entries …
      </DisclosureButton>
      <DisclosurePanel className="mt-2 max-w-2xl space-y-2">
        <TextArea label="One entry a line, and behind a # a note" value={text} onChange={setText} />
        <Tick checked={skip} onChange={setSkip}>
          Skip invalid lines
        </Tick>
        <span className="flex flex-wrap items-center gap-3">
          <Button
            main
            disabled={file !== undefined || more.length === 0 || more.length > MOST_ADDED || append.isPending}
            onClick={() => append.mutate(undefined, { onSuccess: () => setText('') })}
          >
            {`Add ${more.length === 1 ? 'it' : `these ${count(more.length)}`} to ${name}`}
          </Button>
          <AskButton
            consequence={`All that ${name} holds is replaced, what others added too. Its history keeps what it held.`}
            does="Replace all entries"
            disabled={(file === undefined && text.trim() === '') || bring.isPending}
            onConfirm={() => bring.mutate(file ?? new Blob([text]), { onSuccess: () => setFile(undefined) })}
          >
            {file === undefined ? 'Replace all by these' : `Replace all by ${file.name}`}
          </AskButton>
          <FileField label="or a file" onChoose={setFile} />
        </span>
        {more.length > MOST_ADDED && (
          <p className="text-soft">
            Up to {count(MOST_ADDED)} are added at once: these are {count(more.length)}.
          </p>
        )}
        {bring.isPending && (
          <p role="status" className="flex items-center gap-2">
            <progress value={sent < 1 ? sent : undefined} aria-label="How far it is" className="h-2 w-64 accent-iris" />
            {sent < 1 ? 'Sending the entries …' : 'Reading the entries …'}
          </p>
        )}
        {append.error && <ErrorMessage error={append.error} />}
        {append.data && (
          <p role="status">
            {name} has {count(append.data.entries)} entries.
            {append.data.present.length > 0 && ` ${count(append.data.present.length)} were in it already.`}
          </p>
        )}
        {bring.error && <ErrorMessage error={bring.error} />}
        {bring.data && (
          <div role="status">
            {name} has {count(bring.data.entries)} {bring.data.entries === 1 ? 'entry' : 'entries'}.
            {bring.data.left.map(({ line, what }) => (
              <p key={line}>
                line {line}: {what}
              </p>
            ))}
          </div>
        )}
      </DisclosurePanel>
    </Disclosure>
  );
}
