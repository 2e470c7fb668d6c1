import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { EXPORT_FORMS, pathOf, type ReplayBody } from '@jade-fence/contract';
import type { PolicyReport, Report } from '@jade-fence/core/replay';
import { type ComponentProps, lazy, type ReactNode, Suspense } from 'react';
import { HourBars } from '../charts/hour-bars.js';
import { clock, timeZone } from '../marks/clock.js';
import { count, share } from '../marks/count.js';
import { Gate } from '../marks/gate.js';
import { VERDICTS_SHOWN } from '../marks/verdicts.js';
import type { Go } from '../policy/place.js';
import { extentOf } from '../replay/extent.js';

interface OverviewProps {
  readonly replay: ReplayBody | undefined;
  readonly report: Report;
  readonly policy: PolicyReport | undefined;
  readonly go: Go;
}

const CountryMap = lazy(() => import('../charts/country-map.js'));

const HOSTS_SHOWN = 14;
const ROWS_SHOWN = 8;

/** What the replay found as a whole: by verdict, by country, by host. */
export function Overview({ replay, report, policy, go }: OverviewProps) {
  const { requests, verdicts, uncovered } = report;
  const { rows: destinations } = report.breakdowns['destination-country'];
  // Most logs do not show the addresses of destinations.
  const showsDestinations = destinations.some(({ key }) => key !== null);
  const others = requests - uncovered - verdicts.allow - verdicts.block;
  const rows = [
    ...VERDICTS_SHOWN.map((verdict) => ({ verdict, requests: verdicts[verdict] })).filter(
      (row) => row.verdict === 'allow' || row.verdict === 'block' || row.requests > 0,
    ),
    { verdict: 'uncovered' as const, requests: uncovered },
  ];
  return (
    <section aria-label="Overview" className="min-h-0 flex-1 overflow-auto px-4 py-3">
      <h2 className="text-head font-semibold">
        {extentOf(replay)}: <span className="tabular-nums">{count(requests)}</span> requests
      </h2>
      {replay?.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      <p className="mb-3 text-soft">
        {report.first &&
          `${clock(report.first).slice(0, 16)} to ${clock(report.last ?? report.first).slice(0, 16)} ${timeZone()}. `}
        Choose a rule at the left to see its requests.
      </p>
      <div className="mb-4 flex h-3 overflow-hidden rounded-sm" aria-hidden="true">
        <Part tone="bg-jade" part={verdicts.allow} whole={requests} />
        <Part tone="bars-plum" part={verdicts.block} whole={requests} />
        <Part tone="bars-bluebell" part={others} whole={requests} />
        <Part tone="bg-line" part={uncovered} whole={requests} />
      </div>
      <div className="mb-5 flex flex-wrap gap-x-6 gap-y-1">
        {rows.map((row) => (
          <span key={row.verdict}>
            <Figure
              of={row.requests}
              what={`requests with the verdict ${row.verdict}`}
              onChoose={() => go({ verdict: row.verdict })}
            >
              <Gate verdict={row.verdict} /> <span className="tabular-nums">{count(row.requests)}</span>
            </Figure>{' '}
            <span className="text-soft">{share(row.requests, requests)}</span>
          </span>
        ))}
      </div>
      {policy && (
        <p className="mb-5 text-soft">
          Of these, <span className="font-mono text-ink">{policy.policy}</span> judged{' '}
          <Figure of={policy.requests} what="requests of this policy" onChoose={() => go({ own: 'yes' })}>
            {count(policy.requests)}
          </Figure>
          :{' '}
          <Figure
            of={policy.verdicts.allow}
            what="requests that it allowed"
            onChoose={() => go({ own: 'yes', verdict: 'allow' })}
          >
            {count(policy.verdicts.allow)}
          </Figure>{' '}
          allowed, {count(policy.requests - policy.verdicts.allow)} not.
        </p>
      )}
      <StoppedNow report={report} go={go} />
      <HourBars hours={report.breakdowns.hour} onChoose={(hour) => go({ hour })} />
      <div className="grid sm:grid-cols-[minmax(10rem,2fr)_minmax(14rem,3fr)] gap-x-6 gap-y-5">
        <Shares
          title="From"
          rows={report.breakdowns.country.rows.map((each) => ({ name: each.key ?? 'unseen', ...each }))}
          onChoose={(country, more) => go({ country, ...more })}
        />
        <Shares
          title="To"
          rows={report.breakdowns.host.rows
            .slice(0, HOSTS_SHOWN)
            .map((each) => ({ name: each.key ?? 'unseen', ...each }))}
          onChoose={(host, more) => go({ host, ...more })}
        />
        {showsDestinations && (
          <Shares
            title="To destinations in"
            rows={destinations.map((each) => ({ name: each.key ?? 'unseen', ...each }))}
            onChoose={(to, more) => go({ to, ...more })}
          />
        )}
        {(['client', 'category', 'application', 'method', 'status'] as const).map((by) => (
          <Shares
            key={by}
            title={`By ${by}`}
            rows={report.breakdowns[by].rows
              .slice(0, ROWS_SHOWN)
              .map((each) => ({ name: each.key ?? 'unseen', ...each }))}
            onChoose={(name, more) => go({ [by]: name, ...more })}
          />
        ))}
      </div>
      <MapOf
        title="Map of where from"
        of="where requests come from"
        countries={report.breakdowns.country}
        onChoose={(country) => go({ country })}
      />
      {showsDestinations && (
        <MapOf
          title="Map of where to"
          of="where requests go to"
          countries={report.breakdowns['destination-country']}
          onChoose={(to) => go({ to })}
        />
      )}
      {replay && <Downloads replay={replay.id} />}
    </section>
  );
}

/** The classes of statuses with which a request was let through, when the log was written. */
const LET_THROUGH = ['2xx', '3xx'] as const;

/** What was let through then and would be blocked now: who would miss it, and where, is one press away. */
function StoppedNow({ report, go }: Pick<OverviewProps, 'report' | 'go'>) {
  const stopped = LET_THROUGH.map((status) => ({
    status,
    requests: report.breakdowns.status.rows
      .filter(({ key }) => key?.startsWith(status.slice(0, 1)))
      .reduce((sum, row) => sum + row.block, 0),
  })).filter(({ requests }) => requests > 0);
  if (stopped.length === 0) return null;
  return (
    <p className="mb-5 text-soft">
      Let through then, blocked now:{' '}
      {stopped.map(({ status, requests }, at) => (
        <span key={status}>
          {at > 0 && ', '}
          <Figure
            of={requests}
            what={`requests that were answered ${status} and are blocked now, in sum`}
            onChoose={() => go({ status, verdict: 'block', evidence: 'yes' })}
          >
            {count(requests)}
          </Figure>{' '}
          answered {status}
        </span>
      ))}
      .
    </p>
  );
}

function MapOf({ title, ...shown }: { readonly title: string } & ComponentProps<typeof CountryMap>) {
  return (
    <Disclosure as="div" className="mt-4 max-w-2xl">
      <DisclosureButton className="cursor-pointer text-iris hover:underline">{title}</DisclosureButton>
      <DisclosurePanel>
        <Suspense fallback={<p className="text-soft">Loading the map …</p>}>
          <CountryMap {...shown} />
        </Suspense>
      </DisclosurePanel>
    </Disclosure>
  );
}

const EXPORTS = { csv: 'CSV', jsonl: 'JSON Lines', parquet: 'Parquet' } as const;

/** Where a replay can be taken along from, with what it is then. */
function formsOf(id: number): readonly { readonly href: string; readonly label: string }[] {
  const params = { id };
  return [
    { href: pathOf('GET /replays/:id/report.html', { params }), label: 'Report as a page' },
    { href: pathOf('GET /replays/:id/report.md', { params }), label: 'Report as Markdown' },
    ...EXPORT_FORMS.map((form) => ({
      href: pathOf('GET /replays/:id/export', { params, query: { form } }),
      label: `Requests as ${EXPORTS[form]}`,
    })),
  ];
}

/** What can be taken along. */
function Downloads({ replay }: { readonly replay: number }) {
  return (
    <p className="mt-4 flex flex-wrap gap-x-4 border-t border-line pt-2">
      {formsOf(replay).map(({ href, label }) => (
        <a key={href} href={href} download className="text-iris hover:underline">
          {label}
        </a>
      ))}
    </p>
  );
}

function Part({ tone, part, whole }: { readonly tone: string; readonly part: number; readonly whole: number }) {
  return <span className={tone} style={{ width: `${whole === 0 ? 0 : (part / whole) * 100}%` }} />;
}

interface SharesProps {
  readonly title: string;
  readonly rows: readonly {
    readonly name: string;
    /** Null for requests that do not show it: only countries can be chosen so. */
    readonly key: string | null;
    readonly requests: number;
    readonly block: number;
  }[];
  readonly onChoose: (name: string, more: { readonly verdict?: 'block' }) => void;
}

/** A figure that leads to its requests; none of none. */
function Figure({ of, what, onChoose, children }: FigureProps) {
  if (of === 0) return children;
  return (
    <button
      type="button"
      title={`Show the ${what}`}
      className="min-h-6 min-w-6 cursor-pointer underline decoration-line decoration-dotted underline-offset-2 hover:decoration-current"
      onClick={onChoose}
    >
      {children}
    </button>
  );
}

interface FigureProps {
  readonly of: number;
  /** What it is a figure of. */
  readonly what: string;
  readonly onChoose: () => void;
  readonly children: ReactNode;
}

function Shares({ title, rows, onChoose }: SharesProps) {
  const isChosen = ({ key }: SharesProps['rows'][number]) => key !== null || isOfCountries;
  const isOfCountries = title === 'From' || title.startsWith('To destinations');
  const most = rows[0]?.requests ?? 1;
  return (
    <table aria-label={title} className="h-fit w-full text-left">
      <thead className="text-soft">
        <tr>
          {[title, 'requests', 'blocked'].map((each, index) => (
            <th
              key={each}
              scope="col"
              className={`border-b border-line py-1 font-normal ${index > 0 ? 'pl-3 text-right' : ''}`}
            >
              {each}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="border-b border-line/60">
            <td className="relative max-w-0 w-full truncate py-0.5 font-mono" title={row.name}>
              <span
                className="absolute inset-y-0.5 left-0 -z-0 bg-chosen"
                style={{ width: `${(row.requests / most) * 100}%` }}
              />
              {isChosen(row) ? (
                <button
                  type="button"
                  className="relative min-h-6 min-w-6 cursor-pointer text-left hover:underline"
                  onClick={() => onChoose(row.name, {})}
                >
                  {row.name}
                </button>
              ) : (
                <span className="relative">{row.name}</span>
              )}
            </td>
            <td className="py-0.5 pl-3 text-right tabular-nums">{count(row.requests)}</td>
            <td className="py-0.5 pl-3 text-right tabular-nums">
              {row.block === 0 && '·'}
              {row.block > 0 && !isChosen(row) && count(row.block)}
              {row.block > 0 && isChosen(row) && (
                <Figure
                  of={row.block}
                  what={`blocked requests of ${row.name}`}
                  onChoose={() => onChoose(row.name, { verdict: 'block' })}
                >
                  {count(row.block)}
                </Figure>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
