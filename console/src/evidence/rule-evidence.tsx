import { useFetched } from '../api/fetching.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { CodeText } from '../marks/code-text.js';
import { count } from '../marks/count.js';
import type { ListedRole } from '../marks/roles.js';
import type { Go } from '../policy/place.js';
import { RequestTable } from '../requests/request-table.js';
import { AllShares } from './all-shares.js';
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
      {requests > 0 && <AllShares {...{ shares, requests, go }} />}
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
