import { useState } from 'react';
import { Link } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { useSearch } from '../frame/search.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { VERDICTS_SHOWN } from '../marks/verdicts.js';
import { targetOf } from '../requests/request-table.js';
import { ConnectGateway } from './connect-gateway.js';
import { RateBars } from './rate-bars.js';

const LOOK_MS = 1000;
const SHOWN = 100;

const VERDICTS = [{ value: '', label: 'any' }, ...VERDICTS_SHOWN.map((value) => ({ value, label: value }))];
const RECORDS = [
  { value: '', label: 'log and alert' },
  { value: 'log', label: 'log' },
  { value: 'alert', label: 'alert' },
];

type AnyVerdict = Parameters<typeof Gate>[0]['verdict'];

/** The live decisions. */
export default function LivePage() {
  const { get, set } = useSearch();
  const [isPaused, setPaused] = useState(false);
  const [verdict, record] = [get('verdict'), get('record')];
  const often = isPaused ? {} : { every: LOOK_MS };
  const query = { limit: SHOWN, verdict: verdict || undefined, record: record || undefined };
  const live = useFetched('GET /live', {}, often);
  const decisions = useFetched('GET /decisions', { query }, { ...often, keep: true });
  const isNew = live.data?.counts.length === 0 && decisions.data?.decisions.length === 0 && !verdict && !record;
  const counts = live.data && [...live.data.counts].sort((a, b) => b.count - a.count);
  const alerts = decisions.data?.decisions.filter(({ record }) => record === 'alert') ?? [];
  return (
    <Page
      title="Live"
      about={
        live.data?.revision
          ? `Revision ${live.data.revision} decides`
          : 'Nothing is published, so that nothing can be decided yet'
      }
      acts={
        <>
          <Link to="/usage" className="text-iris hover:underline">
            Usage of rules
          </Link>
          {!isNew && (
            <>
              <Choice label="Verdict" value={verdict} options={VERDICTS} onChange={(next) => set('verdict', next)} />
              <Choice label="Recorded as" value={record} options={RECORDS} onChange={(next) => set('record', next)} />
              <Button onClick={() => setPaused(!isPaused)}>{isPaused ? 'Go on' : 'Pause'}</Button>
            </>
          )}
        </>
      }
    >
      {(live.error ?? decisions.error) && <ErrorMessage error={(live.error ?? decisions.error) as Error} />}
      {isPaused && <p role="status">Paused: decisions go on, and are shown when you do.</p>}
      {live.data && !isNew && <RateBars live={live.data} at={live.dataUpdatedAt} />}
      {isNew && live.data?.revision && <ConnectGateway />}
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(18rem,1fr)_minmax(28rem,2fr)] gap-8">
        <Part title="By rule, since the service started">
          <Table
            label="Counts by rule"
            empty="No gateway has asked yet."
            columns={['rule', 'verdict', 'as', { title: 'requests', right: true }]}
            rows={counts?.map(({ policy, rule, verdict, role, count: many }) => ({
              key: `${policy} ${rule} ${verdict} ${role}`,
              cells: [
                policy === null ? (
                  'uncovered'
                ) : (
                  <Link key="r" to={`/policies/${policy}?rule=${rule}`} className="font-mono text-iris hover:underline">
                    {policy} / {rule}
                  </Link>
                ),
                <Gate key="v" verdict={verdict as AnyVerdict} />,
                role,
                count(many),
              ],
            }))}
          />
        </Part>
        <Part
          title="Decisions as they are made"
          acts={
            <span role="status" className={alerts.length > 0 ? 'text-ochre' : 'text-soft'}>
              {alerts.length === 0 ? 'no alerts among them' : `${alerts.length} alerts among them`}
            </span>
          }
        >
          <Table
            label="Recorded decisions"
            columns={['at', 'client', 'request', 'verdict', 'by', '']}
            rows={decisions.data?.decisions.map((each) => ({
              key: each.decision,
              tone: each.record === 'alert' ? 'bg-ochre-wash' : '',
              cells: [
                <span key="t" className="whitespace-nowrap font-mono">
                  {clock(each.at).slice(5)}
                </span>,
                <code key="c">{each.client ?? '–'}</code>,
                <code key="r" className="break-all">
                  {targetOf(each)}
                </code>,
                <Gate key="v" verdict={each.effect as AnyVerdict} />,
                each.rule ?? 'default',
                each.record === 'alert' ? '! alert' : '',
              ],
            }))}
          />
        </Part>
      </div>
    </Page>
  );
}
