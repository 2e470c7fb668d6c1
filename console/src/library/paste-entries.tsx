import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import type { ListSort } from '@jade-fence/core/list';
import { useState } from 'react';
import { sendFile } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { TextArea } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { Tick } from '../frame/tick.js';
import { count } from '../marks/count.js';

interface PasteEntriesProps {
  readonly name: string;
  readonly of: ListSort;
}

/** Many entries at once, in place of what the list held: pasted, or from a file. */
export function PasteEntries({ name, of }: PasteEntriesProps) {
  const [text, setText] = useState('');
  /** A file that was chosen in place of the text. */
  const [file, setFile] = useState<File>();
  const [skip, setSkip] = useState(false);
  const bring = useDeed((file: Blob) =>
    sendFile('PUT /lists/:name/entries', file, { params: { name }, query: { of, skip } }),
  );
  return (
    <Disclosure>
      <DisclosureButton className="cursor-pointer text-jade hover:underline">Replace all entries …</DisclosureButton>
      <DisclosurePanel className="mt-2 max-w-2xl space-y-2">
        <TextArea
          label={`One entry a line, and behind a # a note; in place of all that ${name} holds`}
          value={text}
          onChange={setText}
        />
        <Tick checked={skip} onChange={setSkip}>
          Skip invalid lines
        </Tick>
        <span className="flex items-center gap-3">
          <AskButton
            consequence={`All that ${name} holds is replaced, what others added too. Its history keeps what it held.`}
            does="Replace all entries"
            disabled={(file === undefined && text.trim() === '') || bring.isPending}
            onConfirm={() => bring.mutate(file ?? new Blob([text]), { onSuccess: () => setFile(undefined) })}
          >
            {file === undefined ? 'Take these' : `Take ${file.name}`}
          </AskButton>
          <FileField label="or a file" onChoose={setFile} />
        </span>
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
