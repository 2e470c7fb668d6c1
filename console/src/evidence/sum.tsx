import type { Carried } from '@jade-fence/contract';
import { useFetched } from '../api/fetching.js';
import { HourBars } from '../charts/hour-bars.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { count, counted } from '../marks/count.js';
import type { Go } from '../policy/place.js';
import { RequestTable } from '../requests/request-table.js';
import { AllShares } from './all-shares.js';

interface SumProps {
  readonly replay: number;
  readonly filter: NonNullable<Carried<'GET /replays/:id/sum'>['query']>;
  readonly chosen: number | undefined;
  readonly onChoose: (number: number) => void;
  readonly go: Go;
}

/** What the requests are that were chosen by any field: who they are from, where they go, and what became of them. */
export default function Sum({ replay, filter, chosen, onChoose, go }: SumProps) {
  const sum = useFetched('GET /replays/:id/sum', { params: { id: replay }, query: filter }, { keep: true });
  if (sum.error) return <ErrorMessage error={sum.error} />;
  if (!sum.data) return <Waiting what="the sum" />;
  const { requests, isPart, shares, hours, samples } = sum.data;
  if (requests === 0) return <p className="m-4 text-soft">No request is like that.</p>;
  return (
    <div className="px-4 py-3">
      <p className="mb-3">
        {isPart
          ? `The first ${count(requests)} requests; there are more.`
          : `${counted(requests, 'request', 'requests')}.`}
      </p>
      <HourBars hours={hours} onChoose={(hour) => go({ evidence: undefined, hour })} />
      <AllShares {...{ shares, requests, go }} />
      {samples.length > 0 && (
        <div className="mt-5">
          <Part title="Some that differ from each other">
            <RequestTable requests={samples} showRule chosen={chosen} onChoose={onChoose} />
          </Part>
        </div>
      )}
    </div>
  );
}
