import type { RuleUsage } from '@jade-fence/contract';
import { Link } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page } from '../frame/page.js';
import { useSearch } from '../frame/search.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { StanceChip } from '../marks/stance-chip.js';

const DAYS = [7, 30, 90, 365].map((days) => ({ value: String(days), label: `${days} days` }));
const WHICH = [
  { value: '', label: 'all rules' },
  { value: 'unused', label: 'only unused ones', detail: 'neither decided nor observed anything in these days' },
  { value: 'never', label: 'only never used ones', detail: 'in all the days that are kept' },
];

/** How rules were used by live decisions: what they did in the last days, and when each did something last. */
export default function UsagePage() {
  const { get, set } = useSearch();
  const [policy, days, which] = [get('policy'), get('days') || '30', get('which')];
  const policies = useWorkspace().data?.policies ?? [];
  const query = { days: Number(days), policy: policy || undefined };
  const usage = useFetched('GET /usage', { query }, { keep: true });
  const rules = usage.data?.rules.filter((rule) => isOf(rule, which));
  return (
    <Page
      title="Usage of rules"
      about={
        usage.data?.countedSince
          ? `By live decisions, counted since ${usage.data.countedSince}`
          : 'By live decisions: none was made yet'
      }
      acts={
        <>
          <Choice
            label="Policy"
            value={policy}
            options={[
              { value: '', label: 'any' },
              ...policies.map((each) => ({ value: each.policy, label: each.policy })),
            ]}
            onChange={(next) => set('policy', next)}
          />
          <Choice label="In the last" value={days} options={DAYS} onChange={(next) => set('days', next)} />
          <Choice label="Show" value={which} options={WHICH} onChange={(next) => set('which', next)} />
          <Link to="/live" className="text-iris hover:underline">
            Live
          </Link>
        </>
      }
    >
      {usage.error && <ErrorMessage error={usage.error} />}
      {usage.isPending && <Waiting what="the usage of rules" />}
      <Table
        label="Usage of rules"
        empty="No rule is like that."
        columns={[
          'rule',
          'then',
          '',
          { title: 'decided', right: true },
          { title: 'observed', right: true },
          'last used',
        ]}
        rows={rules?.map((rule) => ({
          key: `${rule.policy} ${rule.rule}`,
          cells: [
            <Link
              key="r"
              to={`/policies/${rule.policy}?rule=${rule.rule}`}
              className="font-mono text-iris hover:underline"
            >
              {rule.policy} / {rule.rule}
            </Link>,
            <Gate key="g" verdict={rule.then} />,
            <StanceChip key="s" stance={rule.stance} />,
            rule.decided === 0 ? '·' : count(rule.decided),
            rule.observed === 0 ? '·' : count(rule.observed),
            <LastUse key="l" rule={rule} />,
          ],
        }))}
      />
    </Page>
  );
}

const lastUse = ({ lastDecided, lastObserved }: RuleUsage): string | undefined =>
  [lastDecided, lastObserved]
    .filter((each) => each !== null)
    .sort()
    .at(-1);

function LastUse({ rule }: { readonly rule: RuleUsage }) {
  const last = lastUse(rule);
  return last === undefined ? <span className="text-soft">never</span> : clock(last).slice(0, 16);
}

function isOf(rule: RuleUsage, which: string): boolean {
  if (which === 'unused') return rule.decided + rule.observed === 0;
  return which !== 'never' || lastUse(rule) === undefined;
}
