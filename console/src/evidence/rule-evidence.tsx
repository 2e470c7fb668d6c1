import type { EvidenceDimension, EvidenceShare } from '@jade-fence/core/replay';
import { useFetched } from '../api/fetching.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { CodeText } from '../marks/code-text.js';
import { count, share } from '../marks/count.js';
import type { ListedRole } from '../marks/roles.js';
import type { Filter, Go } from '../policy/place.js';
import { RequestTable } from '../requests/request-table.js';
import { LimitCurve } from './limit-curve.js';

interface RuleEvidenceProps {
  readonly replay: number;
  readonly policy: string;
  readonly rule: string;
  readonly role: ListedRole;
  readonly chosen: number | undefined;
  readonly onChoose: (number: number) => void;
  readonly go: Go;
}

/** What the requests of a value of a dimension are chosen by. */
const CHOSEN_BY = { 'destination-country': 'to' } as Readonly<Record<string, Filter | 'to'>>;

/** What the requests of one rule are, so that it can be tuned before it acts. */
export default function RuleEvidence({ replay, policy, rule, role, chosen, onChoose, go }: RuleEvidenceProps) {
  const asked = { params: { id: replay }, query: { policy, rule, role } };
  const evidence = useFetched('GET /replays/:id/evidence', asked, { keep: true });
  if (evidence.error) return <ErrorMessage error={evidence.error} />;
  if (!evidence.data) return <Waiting what="what its requests are" />;
  const { requests, shares, samples } = evidence.data;
  const { sentence, blind, unseen, limit } = evidence.data.rule;
  return (
    <div className="px-4 py-3">
      <p className="mb-3">
        <CodeText text={sentence} />
      </p>
      {blind > 0 && (
        <p className="mb-3 border-l-2 border-ochre bg-ochre-wash px-2 py-1">
          It could not be judged on {count(blind)} requests, which do not show{' '}
          {unseen.map(({ field, requests: of }) => `the ${field}${of === blind ? '' : ` (${count(of)})`}`).join(', ')}.
        </p>
      )}
      {limit && <LimitCurve limit={limit} />}
      {requests === 0 && <p className="text-soft">No request is {role} by it in this replay.</p>}
      {requests > 0 && (
        <div className="grid sm:grid-cols-2 gap-x-6 gap-y-4">
          {(Object.keys(shares) as EvidenceDimension[]).map((dimension) => (
            <Shares
              key={dimension}
              title={dimension}
              of={shares[dimension]}
              whole={requests}
              onChoose={(key) => go({ evidence: undefined, [CHOSEN_BY[dimension] ?? dimension]: key })}
            />
          ))}
        </div>
      )}
      {samples.length > 0 && (
        <div className="mt-5">
          <Part title="Some that differ from each other">
            <RequestTable requests={samples} showRule={false} chosen={chosen} onChoose={onChoose} />
          </Part>
        </div>
      )}
    </div>
  );
}

interface SharesProps {
  readonly title: string;
  readonly of: EvidenceShare;
  readonly whole: number;
  /** Shows the requests of a value. */
  readonly onChoose: (key: string) => void;
}

function Shares({ title, of, whole, onChoose }: SharesProps) {
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
        {of.rows.map(({ key, requests }) => (
          <tr key={key ?? ''} className="border-b border-line/60">
            <td className="relative truncate py-0.5 font-mono" title={key ?? 'unseen'}>
              <span
                className="absolute inset-y-0.5 left-0 bg-chosen"
                style={{ width: `${(requests / whole) * 100}%` }}
              />
              {key === null ? (
                <span className="relative">unseen</span>
              ) : (
                <button
                  type="button"
                  className="relative min-h-6 min-w-6 cursor-pointer text-left hover:underline"
                  onClick={() => onChoose(key)}
                >
                  {key}
                </button>
              )}
            </td>
            <td className="py-0.5 text-right tabular-nums">{count(requests)}</td>
            <td className="py-0.5 text-right font-mono whitespace-nowrap text-soft">{share(requests, whole)}</td>
          </tr>
        ))}
        {of.more > 0 && (
          <tr>
            <td className="py-0.5 text-soft">and {count(of.more)} more</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
