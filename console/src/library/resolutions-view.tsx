import type { ResolveBody } from '@jade-fence/contract';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { call, sendFile } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { isUnderWay } from '../api/progress.js';
import { useLogs } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { Tick } from '../frame/tick.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';

const POLL_MS = 1000;
const IDLE_MS = 10_000;
/** This many unreadable lines are shown. */
const FAULTS = 10;

/** Which addresses hosts have: how much is known, where it came from, and looking up what is not known. */
export function ResolutionsView() {
  const resolutions = useFetched('GET /resolutions', {}, { every: IDLE_MS });
  const { hosts = 0, changedAt = null, servers = [] } = resolutions.data ?? {};
  return (
    <>
      <h2 className="mb-2 text-page font-semibold">Resolutions</h2>
      <p className="mb-2 max-w-3xl text-soft">
        Which addresses hosts have, for policies with{' '}
        <code className="font-mono">destinations: {'{resolve: true}'}</code>. Answers are in force at once, for what is
        published too.
      </p>
      {resolutions.error && <ErrorMessage error={resolutions.error} />}
      {resolutions.data && changedAt === null && (
        <p className="mb-3">
          No host is resolved yet, so that rules about destinations are blind where requests do not show them. Load a
          file below, or by the client:
          <Command text="jade-fence resolution import demo/resolutions.csv" />
        </p>
      )}
      {changedAt !== null && (
        <p className="mb-3 text-head">
          {hosts === 1 ? 'One host' : `${count(hosts)} hosts`} known, the last on <strong>{clock(changedAt)}</strong>.
        </p>
      )}
      {resolutions.data && <LookUps servers={servers} />}
      <Loads />
      <Load />
    </>
  );
}

/** Looking up the hosts of a log, and how far that is. */
function LookUps({ servers }: { readonly servers: readonly string[] }) {
  const mayOrder = useMay('publisher');
  const [place] = useSearchParams();
  const logs = useLogs().data?.logs ?? [];
  const [chosen, setChosen] = useState<string>();
  const log = chosen ?? place.get('log') ?? logs[0]?.name;
  const resolves = useFetched('GET /resolves', { query: { limit: 10 } }, { every: POLL_MS });
  const order = useDeed((by: 'dns' | 'log') => call('POST /resolves', { body: { log: log as string, by } }));
  const cancel = useDeed((id: number) => call('POST /resolves/:id/cancel', { params: { id } }));
  const error = order.error ?? cancel.error ?? resolves.error;
  return (
    <Part title="Look up the hosts of a log">
      <p className="mb-2 text-soft">
        {servers.length === 0
          ? 'No DNS servers are set; an administrator sets them under People. A log that shows addresses can be taken all the same.'
          : `Those that are not known, or not any more, by ${servers.join(', ')}; those with most requests first.`}
      </p>
      {mayOrder && (
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <Choice
            label="Log"
            value={log ?? ''}
            options={logs.map(({ name }) => ({ value: name, label: name }))}
            onChange={setChosen}
            empty="No log yet"
          />
          {log !== undefined && servers.length > 0 && (
            <Button onClick={() => order.mutate('dns')}>Look up its hosts</Button>
          )}
          {log !== undefined && <Button onClick={() => order.mutate('log')}>Take the addresses that it shows</Button>}
        </div>
      )}
      {error && <ErrorMessage error={error} />}
      <Table
        label="Look-ups of hosts"
        columns={['number', 'of', 'how far', 'result', 'by', 'begun', '']}
        empty="No host has been looked up yet."
        rows={resolves.data?.resolves.map((job) => ({
          key: job.id,
          cells: [
            `#${job.id}`,
            job.log === null ? 'named hosts' : <code className="font-mono">{job.log}</code>,
            farText(job),
            <Result key="r" job={job} />,
            job.actor,
            clock(job.startedAt),
            mayOrder && isUnderWay(job) && (
              <Button key="c" onClick={() => cancel.mutate(job.id)}>
                Cancel #{job.id}
              </Button>
            ),
          ],
        }))}
      />
    </Part>
  );
}

function farText({ state, done, total, secondsLeft }: ResolveBody): string {
  if (state !== 'running') return state;
  if (total === null) return 'finding its hosts';
  const left = secondsLeft === null ? '' : `, ${count(secondsLeft)} s left`;
  return `${count(done)} of ${count(total)}${left}`;
}

function Result({ job }: { readonly job: ResolveBody }) {
  const { failure, counts, examples, state } = job;
  if (failure) return <>{failure.detail}</>;
  if (state !== 'done') return null;
  const parts = [
    `${count(counts.found + counts.private)} with addresses`,
    ...(counts.none > 0 ? [`${count(counts.none)} without any`] : []),
    ...(counts.failed > 0 ? [`${count(counts.failed)} not answered`] : []),
    ...(counts.withheld > 0 ? [`${count(counts.withheld)} private, not sent outside`] : []),
  ];
  return (
    <>
      {parts.join(', ')}
      {examples.length > 0 && (
        <details>
          <summary className="cursor-pointer text-soft">
            {counts.private > 0 ? 'Some lead to private networks' : 'Why'}
          </summary>
          <ul className="text-soft">
            {examples.map(({ host, why }) => (
              <li key={host}>
                <code className="font-mono">{host}</code>: {why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function Loads() {
  const loads = useFetched('GET /resolutions/loads', { query: { limit: 20 } });
  return (
    <Part title="Where answers came from">
      {loads.error && <ErrorMessage error={loads.error} />}
      <Table
        label="Loads"
        columns={['kind', 'from', { title: 'hosts', right: true }, { title: 'skipped', right: true }, 'by', 'when']}
        empty="Nothing was loaded or looked up yet."
        rows={loads.data?.loads.map(({ id, kind, name, hosts, faultCount, by, loadedAt, anew }) => ({
          key: id,
          cells: [
            kind,
            <code key="n" className="font-mono">
              {name}
            </code>,
            count(hosts),
            count(faultCount),
            by ?? 'the service',
            `${clock(loadedAt)}${anew ? ', anew' : ''}`,
          ],
        }))}
      />
    </Part>
  );
}

function Load() {
  const mayLoad = useMay('administrator');
  const [origin, setOrigin] = useState('');
  const [anew, setAnew] = useState(false);
  const load = useDeed((file: File) => {
    const query = { source: file.name.slice(0, 100), origin: origin.trim() || undefined, anew };
    return sendFile('POST /resolutions/loads', file, { query });
  });
  if (!mayLoad) return null;
  return (
    <Part title="Load a file">
      <TextField
        label="Origin of a zone file, where it has no $ORIGIN"
        value={origin}
        onChange={setOrigin}
        placeholder="fennelhill.example"
      />
      <div className="my-2">
        <Tick checked={anew} onChange={setAnew}>
          Forget what was known before
        </Tick>
      </div>
      <FileField
        label="CSV with host and address, a hosts file, or a zone file"
        onChoose={(file) => load.mutate(file)}
      />
      {load.isPending && <p role="status">Loading …</p>}
      {load.error && <ErrorMessage error={load.error} />}
      {load.data && (
        <div role="status">
          <p>
            Loaded {count(load.data.hosts)} hosts; {count(load.data.faultCount)} lines were skipped.
          </p>
          <ul className="text-soft">
            {load.data.faults.slice(0, FAULTS).map(({ line, reason }) => (
              <li key={line}>
                line {line}: {reason}
              </li>
            ))}
          </ul>
        </div>
      )}
    </Part>
  );
}
