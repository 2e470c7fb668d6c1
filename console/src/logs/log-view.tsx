import { pathOf } from '@jade-fence/contract';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { count } from '../marks/count.js';

interface LogViewProps {
  readonly name: string;
  readonly mayEdit: boolean;
}

/** One log: what was read of it, and what was not, and why. */
export function LogView({ name, mayEdit }: LogViewProps) {
  const params = { name };
  const log = useFetched('GET /logs/:name', { params });
  const navigate = useNavigate();
  const replay = useDeed(() => call('POST /replays', { body: { log: name } }));
  const remove = useDeed(() => call('DELETE /logs/:name', { params }));
  if (log.error && !log.data) return <ErrorMessage error={log.error} />;
  if (!log.data) return <Waiting what="the log" />;
  const { requests, lines, rejected, looksWrong, format, ignoredFields, unreadable, redacted, damagedFiles } = log.data;
  const ignored = Object.entries(ignoredFields);
  return (
    <Part
      title={name}
      acts={
        mayEdit && (
          <span className="flex gap-2">
            <Button
              main
              onClick={() => replay.mutate(undefined, { onSuccess: ({ id }) => navigate(`/policies?replay=${id}`) })}
            >
              Replay it
            </Button>
            <AskButton
              consequence={`The log ${name} with its ${count(requests)} requests and every replay of it are gone for good.`}
              does={`Delete ${name} and its replays`}
              onConfirm={() => remove.mutate(undefined, { onSuccess: () => navigate('/logs') })}
            >
              Delete it and its replays
            </AskButton>
          </span>
        )
      }
    >
      {(replay.error ?? remove.error) && <ErrorMessage error={(replay.error ?? remove.error) as Error} />}
      <p>
        {count(requests)} requests of {count(lines)} lines, read as {format}.
        {redacted.length > 0 && ` Left out when it was stored: ${redacted.join(', ')}.`}
      </p>
      {looksWrong && (
        <p role="alert" className="border-l-2 border-ochre bg-ochre-wash px-2 py-1">
          Most lines could not be read, so the format looks wrong. Import the file again with its columns.
        </p>
      )}
      {ignored.length > 0 && (
        <p className="text-soft">
          Passed over: {ignored.map(([field, many]) => `${field} (${count(many)})`).join(', ')}
        </p>
      )}
      {damagedFiles.map(({ file, reason }) => (
        <p key={file} className="my-1">
          <span className="font-mono">{file}</span>: {reason}; what is in front of that was taken.
        </p>
      ))}
      {unreadable.length > 0 && (
        <p>
          Values that could not be read left their fields unseen:{' '}
          {unreadable.map(({ field, reason, count: many }) => `${field} (${reason}, ${count(many)})`).join(', ')}
        </p>
      )}
      {rejected > 0 && <Rejected name={name} total={rejected} />}
    </Part>
  );
}

function Rejected({ name, total }: { readonly name: string; readonly total: number }) {
  const params = { name };
  const page = useFetched('GET /logs/:name/rejected', { params, query: { limit: 20 } }).data;
  return (
    <div className="mt-2">
      <p>
        {count(total)} lines could not be read:{' '}
        <a href={pathOf('GET /logs/:name/rejected.jsonl', { params })} download className="text-iris hover:underline">
          all of them as a file
        </a>
      </p>
      <Table
        label="Lines that could not be read"
        columns={[{ title: 'line', right: true }, 'why', 'text']}
        rows={page?.rejected.map(({ line, reason, text }) => ({
          key: line,
          cells: [
            count(line),
            reason,
            <code key="t" className="font-mono break-all">
              {text.slice(0, 160)}
            </code>,
          ],
        }))}
      />
    </div>
  );
}
