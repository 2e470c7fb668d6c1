import type { Explanation } from '@jade-fence/core/engine';
import { useExplained } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Gate } from '../marks/gate.js';
import { targetOf } from '../requests/request-table.js';
import { RequestActs } from './request-acts.js';
import { RulePath } from './rule-path.js';

interface ExplanationPanelProps {
  readonly replay: number;
  readonly number: number;
  readonly onClose: () => void;
}

/** The story of one request: the answer first, then who the client is, then the way through the rules. */
export default function ExplanationPanel({ replay, number, onClose }: ExplanationPanelProps) {
  const explained = useExplained(replay, number);
  return (
    <section
      aria-label={`Request ${number}`}
      className="max-h-[56%] flex-none overflow-auto border-t-2 border-iris bg-sheet"
    >
      {explained.error && <ErrorMessage error={explained.error} />}
      {explained.isPending && <Waiting what="the explanation" />}
      {explained.data && (
        <div className="px-4 py-3">
          <div className="flex items-baseline gap-3">
            <h2 className="min-w-0 truncate font-mono text-head font-semibold" title={targetOf(explained.data)}>
              {number} · {targetOf(explained.data)}
            </h2>
            <span className="ml-auto flex-none">
              <Button onClick={onClose}>Close</Button>
            </span>
          </div>
          <RequestActs replay={replay} judged={explained.data} />
          {explained.data.explanation ? (
            <Story explanation={explained.data.explanation} />
          ) : (
            <p>No policy covers this request, so it has no verdict.</p>
          )}
        </div>
      )}
    </section>
  );
}

/** The story itself: the answer, who the client is, and the way through the rules. */
export function Story({ explanation }: { readonly explanation: Explanation }) {
  const { verdict, summary, unjudged, client, country, destinations, resolved } = explanation;
  return (
    <>
      <p className="my-2 flex gap-2 text-head">
        <span className="flex-none">
          <Gate verdict={verdict} />
        </span>
        <span>{summary}</span>
      </p>
      {unjudged !== null && <p className="my-2 border-l-2 border-ochre bg-ochre-wash px-2">{unjudged}</p>}
      <dl className="mb-3 grid grid-cols-[4.5rem_1fr] gap-y-0.5">
        <dt className="text-soft">Client</dt>
        <dd>{client.text}</dd>
        <dt className="text-soft">Country</dt>
        <dd>{country.text}</dd>
        {destinations.length > 0 && (
          <>
            <dt className="text-soft">Goes to</dt>
            <dd>
              {destinations.map(({ address, text }) => (
                <div key={address}>{text}</div>
              ))}
            </dd>
          </>
        )}
        {resolved && (
          <>
            <dt className="text-soft">Resolved</dt>
            <dd>{resolved.text}</dd>
          </>
        )}
      </dl>
      <RulePath explanation={explanation} />
    </>
  );
}
