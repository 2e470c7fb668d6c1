import { Link } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { ErrorMessage } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock, count } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { targetOf } from '../requests/request-table.js';

const LOOK_MS = 1000;
const SHOWN = 100;

type AnyVerdict = Parameters<typeof Gate>[0]['verdict'];

/** The live decisions. */
export default function LivePage() {
  const live = useFetched('GET /live', {}, { every: LOOK_MS });
  const decisions = useFetched('GET /decisions', { query: { limit: SHOWN } }, { every: LOOK_MS });
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
    >
      {(live.error ?? decisions.error) && <ErrorMessage error={(live.error ?? decisions.error) as Error} />}
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(18rem,1fr)_minmax(28rem,2fr)] gap-8">
        <Part title="By rule, since the service started">
          <Table
            label="Counts by rule"
            empty="No gateway has asked yet. A made-up one ships with the demo: npm run demo:gateway."
            columns={['rule', 'verdict', 'as', { title: 'requests', right: true }]}
            rows={counts?.map(({ policy, rule, verdict, role, count: many }) => ({
              key: `${policy} ${rule} ${verdict} ${role}`,
              cells: [
                policy === null ? (
                  'uncovered'
                ) : (
                  <Link key="r" to={`/policies/${policy}?rule=${rule}`} className="font-mono text-jade hover:underline">
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
