import type { LookUpBody } from '@jade-fence/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { isUnderWay } from '../api/progress.js';
import { useLogs, useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { MakeRule } from '../edit/make-rule.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';

const POLL_MS = 500;

/** The addresses of a host: when and by whom they were seen, and where each of them is. */
export function Answer({ known, host }: { readonly known: LookUpBody; readonly host: string }) {
  const { resolution, countryData } = known;
  return (
    <>
      {resolution === null && <p>None is known.</p>}
      {resolution?.addresses.length === 0 && <p>It is known to have none.</p>}
      {resolution?.addresses.map(({ address, country, lists }) => (
        <p key={address}>
          <Link to={`/look-up?of=${encodeURIComponent(address)}`} className="font-mono text-iris hover:underline">
            {address}
          </Link>{' '}
          {country === null ? (
            <span className="text-soft">no country data</span>
          ) : (
            <>
              is in <strong>{country.name ?? country.country}</strong>
              {country.name !== null && <code className="font-mono"> {country.country}</code>}
              {country.network && `, network ${country.network}`}
              {country.by === 'data' && countryData && ` by the data of ${countryData.date}`}
              {country.by === 'correction' && ' by a correction'}
            </>
          )}
          {lists.map(({ list }) => (
            <Link key={list} to={`/library/list/${list}`} className="ml-2 font-mono text-iris hover:underline">
              {list}
            </Link>
          ))}
        </p>
      ))}
      {resolution && (
        <p className="text-soft">
          seen {clock(resolution.seen)} by {resolution.from.kind}{' '}
          <code className="font-mono">{resolution.from.name}</code>
          {resolution.until !== null && `, held until ${clock(resolution.until)}`}
        </p>
      )}
      {resolution?.isPrivate && (
        <p className="my-1 border-l-2 border-ochre bg-ochre-wash px-2">
          A public name at an address of private networks: whoever answered may lie.
        </p>
      )}
      <LookUpNow host={host} />
    </>
  );
}

/** Asks the DNS servers for the host. */
function LookUpNow({ host }: { readonly host: string }) {
  const mayOrder = useMay('publisher');
  const servers = useFetched('GET /resolutions').data?.servers ?? [];
  const look = useDeed(async () => {
    let job = await call('POST /resolves', { body: { hosts: [host] } });
    while (isUnderWay(job)) {
      await new Promise((resolve) => setTimeout(resolve, POLL_MS));
      job = await call('GET /resolves/:id', { params: { id: job.id } });
    }
    return job;
  });
  if (!mayOrder || servers.length === 0) return null;
  const why = look.data?.failure?.detail ?? look.data?.examples[0]?.why;
  return (
    <div className="mt-1">
      <Button onClick={() => look.mutate()}>{look.isPending ? 'Looking it up …' : 'Look it up now'}</Button>
      {look.error && <ErrorMessage error={look.error} />}
      {why !== undefined && <p role="status">{why}</p>}
    </div>
  );
}

/** The field of a rule that each kind of remedy is written in. */
const FIELD = { address: 'destination', network: 'destination', host: 'host', country: 'destination-country' } as const;

interface RemediesProps {
  readonly known: LookUpBody;
  readonly log: string | undefined;
  readonly onLog: (log: string) => void;
}

/** What a rule could be about, the narrowest first, with what else of a log it would stop. */
export function Remedies({ known, log, onLog }: RemediesProps) {
  const logs = useLogs().data?.logs ?? [];
  const policies = useWorkspace().data?.policies ?? [];
  const [chosen, setChosen] = useState<string>();
  const policy = chosen ?? policies[0]?.policy;
  if (known.remedies.length === 0) return null;
  const shown = (amount: number | null) => (amount === null ? '–' : count(amount));
  return (
    <div className="mt-6 max-w-4xl">
      <Part title="To stop it, the narrowest first">
        <div className="mb-2 flex flex-wrap gap-4">
          <Choice
            label="Count in log"
            value={log ?? ''}
            options={logs.map(({ name }) => ({ value: name, label: name }))}
            onChange={onLog}
            empty="No log yet"
          />
          <Choice
            label="Rules of"
            value={policy ?? ''}
            options={policies.map((each) => ({ value: each.policy, label: each.policy, detail: each.note ?? '' }))}
            onChange={setChosen}
            empty="No policy yet"
          />
        </div>
        <Table
          label="Remedies"
          columns={[
            'this',
            'write in a rule',
            { title: 'requests', right: true },
            { title: 'of these to other hosts', right: true },
            '',
          ]}
          rows={known.remedies.map(({ kind, value, condition, requests, others }) => ({
            key: condition,
            cells: [
              kind,
              <code key="c" className="font-mono">
                {condition}
              </code>,
              shown(requests),
              shown(others),
              policy !== undefined && (
                <MakeRule
                  key="m"
                  name={`no ${value}`}
                  when={{ [FIELD[kind]]: [value] }}
                  policy={policy}
                  says="Make a rule"
                />
              ),
            ],
          }))}
        />
      </Part>
    </div>
  );
}
