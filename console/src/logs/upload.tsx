import type { LogBody } from '@jade-fence/service/bodies';
import { type DragEvent, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { sendFile } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { Preview } from './preview.js';
import { sendingText } from './sending.js';

interface UploadProps {
  readonly known: readonly string[];
}

/** Brings a log: dropped or chosen, looked at, sent with its progress, and stopped where that is wanted. */
export function Upload({ known }: UploadProps) {
  const [file, setFile] = useState<File>();
  const [name, setName] = useState('');
  const [columns, setColumns] = useState<Readonly<Record<string, string>>>({});
  const [mapping, setMapping] = useState('');
  const [{ share, elapsed }, setSent] = useState({ share: 0, elapsed: 0 });
  const [over, setOver] = useState(false);
  const stop = useRef<AbortController>(undefined);
  const navigate = useNavigate();
  const send = useDeed((given: File) => {
    stop.current = new AbortController();
    const begun = performance.now();
    const told = (share: number) => setSent({ share, elapsed: performance.now() - begun });
    told(0);
    const query = new URLSearchParams([
      ['name', name],
      ...(mapping === '' ? [] : [['mapping', mapping]]),
      ...Object.entries(columns).map(([field, column]): [string, string] => ['column', `${field}=${column}`]),
    ]);
    return sendFile<LogBody>('POST', `/api/logs?${query}`, given, told, stop.current.signal);
  });
  const choose = (given: File | undefined) => {
    if (!given) return;
    send.reset();
    setFile(given);
    setColumns({});
    setMapping('');
    setName(freeName(given.name, known));
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    choose(event.dataTransfer.files[0]);
  };
  return (
    <section
      aria-label="Bring a log"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`mb-6 rounded-md border border-dashed p-3 ${over ? 'border-jade bg-jade-wash' : 'border-soft'}`}
    >
      <FileField
        label="Drop a log here, or choose it"
        hint="JSON Lines, common, combined, W3C, CSV, HAR; plain or gzip. The format is told by what is in it."
        onChoose={choose}
      />
      {file && (
        <form
          className="mt-2 space-y-2"
          onSubmit={(event) => {
            event.preventDefault();
            send.mutate(file, {
              onSuccess: (log) => {
                setFile(undefined);
                navigate(`/logs/${log.name}`);
              },
            });
          }}
        >
          <Preview
            key={`${file.name} ${file.size}`}
            {...{ file, columns, mapping }}
            onColumns={setColumns}
            onMapping={setMapping}
          />
          <span className="flex items-end gap-2">
            <TextField label="Name of the log" required value={name} onChange={setName} />
            <Button type="submit" main disabled={send.isPending}>
              Bring {file.name}
            </Button>
            {send.isPending && <Button onClick={() => stop.current?.abort()}>Stop</Button>}
          </span>
          {send.isPending && (
            <p role="status" className="flex items-center gap-2">
              <progress value={share} max={1} aria-label="How much was sent" className="h-2 w-64 accent-jade" />
              {sendingText(share, file.size, elapsed)}
            </p>
          )}
        </form>
      )}
      {send.error && <ErrorMessage error={send.error} />}
    </section>
  );
}

function freeName(file: string, known: readonly string[]): string {
  const base =
    file
      .toLowerCase()
      .replace(/\.(gz|jsonl?|log|csv|har|txt)\b/g, '')
      .replace(/[^a-z0-9-]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 50) || 'log';
  let name = base;
  for (let number = 2; known.includes(name); number++) name = `${base}-${number}`;
  return name;
}
