import type { JudgedBody } from '@jade-fence/contract';
import { memo, useCallback, useRef } from 'react';
import { goByRows } from '../frame/by-rows.js';
import { clock } from '../marks/clock.js';
import { Gate } from '../marks/gate.js';

interface RequestTableProps {
  readonly requests: readonly JudgedBody[];
  /** Whether to show which rule decided; of use when they are not all the same. */
  readonly showRule: boolean;
  readonly chosen: number | undefined;
  readonly onChoose: (number: number) => void;
}

/** Requests with their outcome; choosing one explains it. Columns keep their widths, however many rows follow. */
export function RequestTable({ requests, showRule, chosen, onChoose }: RequestTableProps) {
  // Rows that are there are not drawn again when others follow, or another is chosen.
  const choose = useRef(onChoose);
  choose.current = onChoose;
  const onRow = useCallback((number: number) => choose.current(number), []);
  return (
    <table className="w-full table-fixed border-collapse text-left text-[12px]" onKeyDown={goByRows}>
      <thead className="sticky top-0 z-10 bg-sheet text-soft">
        <tr>
          {COLUMNS.filter(([title]) => showRule || title !== 'By').map(([title, width]) => (
            <th key={title} scope="col" className={`border-b border-line px-1.5 py-1 font-normal first:pl-4 ${width}`}>
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {requests.map((each) => (
          <Row key={each.number} judged={each} showRule={showRule} chosen={chosen === each.number} onChoose={onRow} />
        ))}
      </tbody>
    </table>
  );
}

const COLUMNS = [
  ['#', 'w-[4.5rem]'],
  ['Time', 'w-[7rem]'],
  ['Client', 'w-[6.75rem]'],
  ['From', 'w-[3.75rem]'],
  ['Request', ''],
  ['Verdict', 'w-[5rem]'],
  ['By', 'w-[5.5rem]'],
] as const;

interface RowProps {
  readonly judged: JudgedBody;
  readonly showRule: boolean;
  readonly chosen: boolean;
  readonly onChoose: (number: number) => void;
}

const Row = memo(({ judged, showRule, chosen, onChoose }: RowProps) => {
  const { number, client, country, destinationCountry, policy, rule, verdict } = judged;
  return (
    <tr
      className={`border-b border-line/60 hover:bg-chosen ${chosen ? 'bg-chosen' : ''}`}
      onClick={() => onChoose(number)}
    >
      <td className="py-0.5 pr-1.5 pl-4 text-right font-mono">
        <button
          type="button"
          className="cursor-pointer text-iris underline-offset-2 hover:underline"
          aria-label={`Explain request ${number}`}
          aria-pressed={chosen}
        >
          {number}
        </button>
      </td>
      <td className="px-1.5 py-0.5 font-mono whitespace-nowrap">{timeOf(judged)}</td>
      <td className="truncate px-1.5 py-0.5 font-mono" title={client ?? 'unseen'}>
        {client ?? '–'}
      </td>
      <td className="px-1.5 py-0.5 font-mono whitespace-nowrap">
        {country ?? '–'}
        {destinationCountry !== null && ` → ${destinationCountry}`}
      </td>
      <td className="px-1.5 py-0.5 font-mono" title={targetOf(judged)}>
        <Target request={judged.request} />
      </td>
      <td className="px-1.5 py-0.5">
        <Gate verdict={verdict} />
      </td>
      {showRule && (
        <td
          className="truncate px-1.5 py-0.5 font-mono"
          title={policy === null ? '' : `${policy}: ${rule ?? 'default'}`}
        >
          {policy === null ? '–' : (rule ?? 'default')}
        </td>
      )}
    </tr>
  );
});

/** Where a request went: the host in front, the path behind, each shortened in its middle where there is no room. */
function Target({ request }: Pick<JudgedBody, 'request'>) {
  const { host = '', port, path = '', query } = request;
  const method = typeof request.method === 'string' ? request.method : '';
  return (
    <span className="flex min-w-0 gap-1.5">
      {method && <span className="flex-none">{method}</span>}
      <Shortened text={`${host}${port === undefined ? '' : `:${port}`}`} className="text-soft" />
      <Shortened text={`${path}${query === undefined ? '' : `?${query}`}`} className="" />
    </span>
  );
}

/** This much of the end of a text stays where it is shortened, in letters. */
const END = 9;

/** The whole text is there to be read and copied; where it has no room, what is in front of its end is cut. */
function Shortened({ text, className }: { readonly text: string; readonly className: string }) {
  const cut = Math.max(0, text.length - END);
  return (
    <span className={`flex min-w-0 ${className}`}>
      <span className="truncate">{text.slice(0, cut)}</span>
      <span className="flex-none whitespace-pre">{text.slice(cut)}</span>
    </span>
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
