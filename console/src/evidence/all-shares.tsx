import type { SumBody } from '@jade-fence/contract';
import type { EvidenceDimension, EvidenceShare } from '@jade-fence/core/replay';
import { count, share } from '../marks/count.js';
import type { Go } from '../policy/place.js';

/** How the requests of a value of a dimension are chosen; none where they cannot be. */
const CHOSEN_BY: Readonly<Record<EvidenceDimension, ((key: string) => Parameters<Go>[0] | undefined) | undefined>> = {
  client: (client) => ({ client }),
  country: (country) => ({ country }),
  // A name whose addresses are in several countries is of none of them alone.
  'destination-country': (to) => (to.includes(' ') ? undefined : { to }),
  host: (host) => ({ host }),
  path: (path) => ({ path }),
  method: (method) => ({ method }),
  status: (status) => ({ status }),
  agent: undefined,
  rule: undefined,
};

const TITLES: Readonly<Record<EvidenceDimension, string>> = {
  client: 'client',
  country: 'country',
  'destination-country': 'destination country',
  host: 'host',
  path: 'path',
  method: 'method',
  status: 'status, as it was answered then',
  agent: 'client software',
  rule: 'rule that decides',
};

interface AllSharesProps extends Pick<SumBody, 'shares' | 'requests'> {
  readonly go: Go;
}

/** The most frequent values by each dimension; each leads to its requests, one by one. */
export function AllShares({ shares, requests, go }: AllSharesProps) {
  return (
    <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2">
      {(Object.keys(shares) as EvidenceDimension[]).map((dimension) => (
        <Shares
          key={dimension}
          title={TITLES[dimension] ?? dimension}
          of={shares[dimension]}
          whole={requests}
          choosing={(key) => {
            const chosen = CHOSEN_BY[dimension]?.(key);
            return chosen && (() => go({ evidence: undefined, ...chosen }));
          }}
        />
      ))}
    </div>
  );
}

interface SharesProps {
  readonly title: string;
  readonly of: EvidenceShare;
  readonly whole: number;
  /** What shows the requests of a value; undefined where they cannot be chosen by it. */
  readonly choosing: (key: string) => (() => void) | undefined;
}

function Shares({ title, of, whole, choosing }: SharesProps) {
  return (
    <table className="h-fit w-full table-fixed text-left">
      <thead className="text-soft">
        <tr className="border-b border-line">
          <th scope="col" className="py-0.5 font-normal">
            By {title}
          </th>
          <th scope="col" className="w-16 py-0.5 text-right font-normal">
            requests
          </th>
          <th scope="col" className="w-18 py-0.5 text-right font-normal">
            share
          </th>
        </tr>
      </thead>
      <tbody>
        {of.rows.map(({ key, requests }) => {
          const choose = key === null ? undefined : choosing(key);
          return (
            <tr key={key ?? ''} className="border-b border-line/60">
              <td className="relative truncate py-0.5 font-mono" title={key ?? 'unseen'}>
                <span
                  className="absolute inset-y-0.5 left-0 bg-chosen"
                  style={{ width: `${(requests / whole) * 100}%` }}
                />
                {choose === undefined ? (
                  <span className="relative">{key ?? 'unseen'}</span>
                ) : (
                  <button
                    type="button"
                    className="relative min-h-6 min-w-6 cursor-pointer text-left hover:underline"
                    onClick={choose}
                  >
                    {key}
                  </button>
                )}
              </td>
              <td className="py-0.5 text-right tabular-nums">{count(requests)}</td>
              <td className="py-0.5 text-right font-mono whitespace-nowrap text-soft">{share(requests, whole)}</td>
            </tr>
          );
        })}
        {of.more > 0 && (
          <tr>
            <td className="py-0.5 text-soft">and {count(of.more)} more</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
