import type { ExplainedJudgedBody } from '@jade-fence/contract';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { MakeRule } from '../edit/make-rule.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';

interface RequestActsProps {
  readonly replay: number;
  readonly judged: ExplainedJudgedBody;
}

/** What can be done with a request of a replay: try it against the draft, or make it a cell of a check. */
export function RequestActs({ replay, judged }: RequestActsProps) {
  const mayEdit = useMay('editor');
  return (
    <div className="my-2 flex flex-wrap items-end gap-x-4 gap-y-1">
      <Link to={`/try?${tryQuery(judged)}`} className="py-1 text-iris hover:underline">
        Try it against the draft
      </Link>
      <MakeRule name={`like request ${judged.number}`} when={whenOf(judged)} policy={judged.policy ?? undefined} />
      {mayEdit && <Expect replay={replay} number={judged.number} verdict={judged.verdict} />}
    </div>
  );
}

function Expect({
  replay,
  number,
  verdict,
}: {
  readonly replay: number;
  readonly number: number;
  readonly verdict: string;
}) {
  const checks = useWorkspace().data?.objects.filter(({ kind }) => kind === 'check') ?? [];
  const [check, setCheck] = useState<string>();
  const name = check ?? checks[0]?.name ?? '';
  const expect = useDeed(() =>
    call('POST /replays/:id/requests/:number/check', { params: { id: replay, number }, body: { check: name } }),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    expect.mutate(undefined);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
      <TextField label={`Expect “${verdict}” of it in the check`} required value={name} onChange={setCheck} />
      <Button type="submit" disabled={expect.isPending}>
        Write it there
      </Button>
      {expect.isSuccess && (
        <span role="status" className="py-1">
          It is in{' '}
          <Link to="/checks" className="text-iris hover:underline">
            {name}
          </Link>
          .
        </span>
      )}
      {expect.error && <ErrorMessage error={expect.error} />}
    </form>
  );
}

/** A condition that just such requests match: of this client, to this host, and to this path where it is shown. */
function whenOf({ client, request }: ExplainedJudgedBody): Record<string, readonly string[]> {
  const path = request.path === undefined ? undefined : exactly(String(request.path));
  const fields = { client: client ?? undefined, host: request.host, path };
  return Object.fromEntries(
    Object.entries(fields).flatMap(([field, value]) => (value === undefined ? [] : [[field, [String(value)]]])),
  );
}

/** A pattern that just this path matches: a star in a path is no star of a pattern. */
const exactly = (path: string): string =>
  path.includes('*') ? `~^${path.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&')}$` : path;

function tryQuery({ client, request }: ExplainedJudgedBody): string {
  const word = (key: string) => (request[key] === undefined ? '' : String(request[key]));
  const port = word('port') === '' ? '' : `:${word('port')}`;
  const url =
    word('method') === 'CONNECT'
      ? `${word('host')}${port || ':443'}`
      : `${word('scheme') || 'https'}://${word('host')}${port}${word('path') || '/'}${word('query') && `?${word('query')}`}`;
  const fields = {
    client: client ?? word('peer'),
    url,
    method: word('method'),
    agent: word('agent'),
    user: word('user'),
  };
  return new URLSearchParams(Object.entries(fields).filter(([, value]) => value !== '')).toString();
}
