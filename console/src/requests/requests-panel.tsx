import type { PolicyReport, Report } from '@jade-fence/core/replay';
import { lazy, Suspense } from 'react';
import { useRequests } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { RoleMark } from '../marks/role-mark.js';
import { LISTED_ROLES } from '../marks/roles.js';
import { VERDICTS_SHOWN } from '../marks/verdicts.js';
import { FILTERS, type Go, type Place } from '../policy/place.js';
import { AddFilter } from './add-filter.js';
import { FILTER_WORDS } from './filter-words.js';
import { hourAfter } from './hour-after.js';
import { RequestTable } from './request-table.js';

interface RequestsPanelProps {
  readonly replay: number;
  /** How much of the log it is of, in words. */
  readonly extent: string;
  readonly report: Report;
  readonly policy: PolicyReport;
  readonly place: Place;
  readonly go: Go;
}

const Sum = lazy(() => import('../evidence/sum.js'));
const RuleEvidence = lazy(() => import('../evidence/rule-evidence.js'));

const VERDICTS = [{ value: '', label: 'any' }, ...VERDICTS_SHOWN.map((value) => ({ value, label: value }))];

const NOTHING_CHOSEN = {
  ...{ rule: undefined, role: undefined, verdict: undefined, evidence: undefined },
  ...{ country: undefined, to: undefined, host: undefined, hour: undefined, own: undefined },
  ...Object.fromEntries(FILTERS.map((name) => [name, undefined])),
};

/** What else the requests are of, with a way out of it. */
function Only({ what, onClear }: { readonly what: string; readonly onClear: () => void }) {
  return (
    <button
      type="button"
      onClick={onClear}
      className="cursor-pointer rounded-sm bg-chosen px-1.5"
      aria-label={`${what}; show others too`}
    >
      {what} <span aria-hidden="true">×</span>
    </button>
  );
}

/** The requests of the chosen rule, or of the chosen country or verdict. */
export default function RequestsPanel({ replay, extent, report, policy, place, go }: RequestsPanelProps) {
  const { rule, role, verdict, country, to, host, hour, only, own, request } = place;
  const isSum = place.evidence;
  const isOfRule = isSum && rule !== undefined && rule !== 'default' && !isNarrowed(place);
  const filter = {
    policy: rule === undefined && !own ? undefined : policy.policy,
    rule,
    role: rule === undefined ? undefined : role,
    verdict,
    country,
    destinationCountry: to,
    host,
    ...only,
    ...(hour !== undefined && { from: hour, to: hourAfter(hour) }),
  };
  const requests = useRequests(replay, filter);
  const rows = requests.data?.pages.flatMap((page) => page.requests) ?? [];
  const countries = [
    { value: '', label: 'anywhere' },
    ...report.breakdowns.country.rows.map((each) => ({
      value: each.key ?? 'unseen',
      label: each.key ?? 'unseen',
      detail: count(each.requests),
    })),
  ];
  return (
    <section aria-label="Requests" className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-4 py-2">
        <h2 className="text-head font-semibold">
          {rule === undefined ? extent : <span className="font-mono">{rule}</span>}
        </h2>
        {rule !== undefined && rule !== 'default' && <RoleTabs policy={policy} place={place} go={go} />}
        <span className="ml-auto flex flex-wrap gap-x-3 gap-y-1">
          <Button onClick={() => go({ evidence: isSum ? undefined : 'yes' })}>{isSum ? 'One by one' : 'In sum'}</Button>
          {!isOfRule && (
            <>
              <Choice
                label="Verdict"
                value={verdict ?? ''}
                options={VERDICTS}
                onChange={(value) => go({ verdict: value || undefined })}
              />
              <Choice
                label="From"
                value={country ?? ''}
                options={countries}
                onChange={(value) => go({ country: value || undefined })}
              />
            </>
          )}
          {rule === undefined && (
            <Choice
              label="Of"
              value={own ? 'yes' : ''}
              options={[
                { value: '', label: 'whole log' },
                { value: 'yes', label: policy.policy },
              ]}
              onChange={(value) => go({ own: value || undefined })}
            />
          )}
          {to !== undefined && <Only what={`to destinations in ${to}`} onClear={() => go({ to: undefined })} />}
          {host !== undefined && <Only what={`to ${host}`} onClear={() => go({ host: undefined })} />}
          {hour !== undefined && (
            <Only what={`in the hour of ${clock(hour).slice(5, 16)}`} onClear={() => go({ hour: undefined })} />
          )}
          {FILTERS.map(
            (name) =>
              only[name] !== undefined && (
                <Only
                  key={name}
                  what={`${FILTER_WORDS[name]} ${only[name]}`}
                  onClear={() => go({ [name]: undefined })}
                />
              ),
          )}
          {!isOfRule && <AddFilter {...{ only, report, go }} />}
          <Button onClick={() => go(NOTHING_CHOSEN)}>Overview</Button>
        </span>
      </div>
      {isSum ? (
        <div data-wide className="min-h-0 flex-1 overflow-auto">
          <Suspense fallback={<Waiting what="what its requests are" />}>
            {isOfRule ? (
              <RuleEvidence
                {...{ replay, rule, role, go }}
                policy={policy.policy}
                chosen={request}
                onChoose={(number) => go({ request: number })}
              />
            ) : (
              <Sum {...{ replay, filter, go }} chosen={request} onChoose={(number) => go({ request: number })} />
            )}
          </Suspense>
        </div>
      ) : (
        <div data-wide className="min-h-0 flex-1 overflow-auto">
          {requests.error && <ErrorMessage error={requests.error} />}
          {requests.isPending && <Waiting what="requests" />}
          {requests.data && rows.length === 0 && <p className="m-4 text-soft">No request is like that.</p>}
          {rows.length > 0 && (
            <RequestTable
              requests={rows}
              showRule={rule === undefined}
              chosen={request}
              onChoose={(number) => go({ request: number })}
            />
          )}
          {requests.hasNextPage && (
            <div className="p-3">
              <Button onClick={() => requests.fetchNextPage()} disabled={requests.isFetchingNextPage}>
                More
              </Button>
            </div>
          )}
        </div>
      )}
    </section>
  );
}

/** Whether more is chosen than a rule and what it did. */
const isNarrowed = ({ verdict, country, to, host, hour, only }: Place): boolean =>
  [verdict, country, to, host, hour, ...Object.values(only)].some((each) => each !== undefined);

function RoleTabs({ policy, place, go }: Pick<RequestsPanelProps, 'policy' | 'place' | 'go'>) {
  const figures = policy.rules.find((each) => each.rule === place.rule);
  return (
    <span className="flex flex-wrap gap-1">
      {LISTED_ROLES.filter((role) => role !== 'tagged' || (figures?.tagged ?? 0) > 0).map((role) => (
        <button
          key={role}
          type="button"
          aria-pressed={place.role === role}
          onClick={() => go({ role })}
          className={`inline-flex cursor-pointer items-center gap-1 rounded-sm border px-1.5 py-0.5 ${place.role === role ? 'border-ink bg-chosen font-medium' : 'border-transparent text-soft hover:border-line'}`}
        >
          <RoleMark of={role} /> {role} <span className="tabular-nums">{count(figures?.[role] ?? 0)}</span>
        </button>
      ))}
    </span>
  );
}
