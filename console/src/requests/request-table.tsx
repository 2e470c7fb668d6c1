import type { JudgedBody } from '@jade-fence/service/bodies';
import { clock } from '../marks/count.js';
import { Gate } from '../marks/gate.js';

interface RequestTableProps {
  readonly requests: readonly JudgedBody[];
  /** Whether to tell which rule decided; of use where they are not all the same. */
  readonly showRule: boolean;
  readonly chosen: number | undefined;
  readonly onChoose: (number: number) => void;
}

/** Requests with what became of them; choosing one explains it. */
export function RequestTable({ requests, showRule, chosen, onChoose }: RequestTableProps) {
  return (
    <table className="w-full border-collapse text-left text-[12px]">
      <thead className="sticky top-0 z-10 bg-sheet text-soft">
        <tr>
          {['#', 'Time (UTC)', 'Client', 'From', 'Request', 'Verdict', ...(showRule ? ['By'] : [])].map((title) => (
            <th key={title} scope="col" className="border-b border-line px-1.5 py-1 font-normal first:pl-4">
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {requests.map((each) => (
          <tr
            key={each.number}
            className={`border-b border-line/60 hover:bg-jade-wash ${chosen === each.number ? 'bg-jade-wash' : ''}`}
            onClick={() => onChoose(each.number)}
          >
            <td className="py-0.5 pr-1.5 pl-4 text-right font-mono">
              <button
                type="button"
                className="cursor-pointer text-jade underline-offset-2 hover:underline"
                aria-label={`Explain request ${each.number}`}
                aria-pressed={chosen === each.number}
              >
                {each.number}
              </button>
            </td>
            <td className="px-1.5 py-0.5 font-mono whitespace-nowrap">{timeOf(each)}</td>
            <td className="px-1.5 py-0.5 font-mono">{each.client ?? '–'}</td>
            <td className="px-1.5 py-0.5 font-mono">{each.country ?? '–'}</td>
            <td className="max-w-0 w-full truncate px-1.5 py-0.5 font-mono" title={targetOf(each)}>
              {targetOf(each)}
            </td>
            <td className="px-1.5 py-0.5">
              <Gate verdict={each.verdict} />
            </td>
            {showRule && (
              <td
                className="max-w-32 truncate px-1.5 py-0.5 font-mono"
                title={each.policy === null ? '' : `${each.policy}: ${each.rule ?? 'default'}`}
              >
                {each.policy === null ? '–' : (each.rule ?? 'default')}
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function timeOf({ request }: JudgedBody): string {
  return typeof request.time === 'string' ? clock(request.time).slice(5) : '–';
}

/** «POST tickets.example/account/sign-in», as far as the request shows it. */
export function targetOf({ request }: Pick<JudgedBody, 'request'>): string {
  const port = request.port === undefined ? '' : `:${request.port}`;
  const query = request.query === undefined ? '' : `?${request.query}`;
  return [request.method, `${request.host ?? ''}${port}${request.path ?? ''}${query}`].filter(Boolean).join(' ');
}
