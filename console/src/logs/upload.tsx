import type { ImportBody } from '@jade-fence/contract';
import { type DragEvent, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { call, sendFile } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { importEnded } from '../api/progress.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { AS_IT_IS, type How, Preview } from './preview.js';
import { readingText, sendingText } from './sending.js';

interface UploadProps {
  readonly known: readonly string[];
  /** Called when a log is there. Default: its page is opened. */
  readonly onBrought?: (log: string) => void;
}

/**
 * Brings a log: dropped or chosen, looked at, sent and read with its progress, and stopped where that is wanted. When it is
 * sent, it is imported whether the page stays or not.
 */
export function Upload({ known, onBrought }: UploadProps) {
  const [file, setFile] = useState<File>();
  const [name, setName] = useState('');
  const [how, setHow] = useState<How>(AS_IT_IS);
  const [{ share, text }, setFar] = useState({ share: 0, text: '' });
  const [over, setOver] = useState(false);
  const stop = useRef<AbortController>(undefined);
  const navigate = useNavigate();
  const send = useDeed(async (given: File) => {
    const stopping = new AbortController();
    const { signal } = stopping;
    stop.current = stopping;
    const begun = performance.now();
    const sent = (share: number) => setFar({ share, text: sendingText(share, given.size, performance.now() - begun) });
    sent(0);
    const { columns, pattern, mapping } = how;
    const column = Object.entries(columns).map(([field, place]) => `${field}=${place}`);
    const query = { name, mapping: mapping || undefined, column, pattern: pattern || undefined };
    const headers = { prefer: 'respond-async' };
    const sending = { headers, onProgress: sent, signal };
    const job = (await sendFile('POST /logs', given, { query }, sending)) as ImportBody;
    // Where the service does not answer, the import is still followed, and can be stopped in the list below.
    signal.addEventListener('abort', () =>
      call('POST /imports/:id/cancel', { params: { id: job.id } }).catch(() => undefined),
    );
    const read = (shown: ImportBody) =>
      setFar({ share: shown.total ? shown.done / shown.total : 0, text: readingText(shown) });
    read(job);
    await importEnded(job, read);
    return job.log;
  });
  const choose = (given: File | undefined) => {
    if (!given) return;
    send.reset();
    setFile(given);
    setHow(AS_IT_IS);
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
      className={`mb-6 rounded-md border border-dashed p-3 ${over ? 'border-iris bg-iris-wash' : 'border-soft'}`}
    >
      <FileField
        label="Drop a log here, or choose it"
        hint="JSON, common, combined, W3C, CSV, HAR, or any text by a pattern; plain or packed. The format is detected."
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
                if (onBrought) onBrought(log);
                else navigate(`/logs/${log}`);
              },
            });
          }}
        >
          <Preview key={`${file.name} ${file.size}`} {...{ file, how }} onHow={setHow} />
          <span className="flex items-end gap-2">
            <TextField label="Name of the log" required value={name} onChange={setName} />
            <Button type="submit" main disabled={send.isPending}>
              Bring {file.name}
            </Button>
            {send.isPending && <Button onClick={() => stop.current?.abort()}>Stop</Button>}
          </span>
          {send.isPending && (
            <p role="status" className="flex items-center gap-2">
              <progress value={share} max={1} aria-label="How far it is" className="h-2 w-64 accent-iris" />
              {text}
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
