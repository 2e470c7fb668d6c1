import type { JudgedBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { table, widthOf } from './table.js';
import type { Paint, Terminal } from './terminal.js';
import { verdictWord } from './verdict.js';

const LONGEST_TARGET = 60;
const SHORTEST_TARGET = 24;
const TARGET = 4;

/** Columns in front of the verdict. */
interface MoreColumns<T> {
  readonly titles: readonly string[];
  readonly cells: (request: T) => readonly string[];
}

/** Requests with their outcome, one a line. */
export function formatRequests<T extends JudgedBody>(
  requests: readonly T[],
  { paint, columns: width }: Pick<Terminal, 'paint' | 'columns'>,
  more: MoreColumns<T> = { titles: [], cells: () => [] },
): string {
  const titles = ['time', 'client', 'country', 'request', ...more.titles, 'verdict', 'by'];
  const columns = [{ title: '#', align: 'right' as const }, ...titles.map((title) => ({ title }))];
  const rows = requests.map((each) => rowOf(each, more.cells(each), paint));
  const others = widthOf(
    columns,
    rows.map((row) => row.with(TARGET, '')),
  );
  const room = Math.min(LONGEST_TARGET, Math.max(SHORTEST_TARGET, width - others));
  return table(
    columns,
    rows.map((row) => row.with(TARGET, cut(row[TARGET] ?? '', room))),
    paint,
  );
}

function rowOf(judged: JudgedBody, more: readonly string[], paint: Paint): string[] {
  const { number, request, client, verdict, policy, rule } = judged;
  const time = typeof request.time === 'string' ? request.time.slice(0, 19).replace('T', ' ') : '–';
  const by = policy === null ? '–' : `${policy} / ${rule ?? 'default'}`;
  return [
    String(number),
    time,
    client ?? '–',
    countriesOf(judged),
    safe(targetOf(request)),
    ...more,
    verdictWord(verdict, paint),
    by,
  ];
}

/** «PT», or «PT → XM» where the address of the destination is known. */
const countriesOf = ({ country, destinationCountry }: JudgedBody): string =>
  [country ?? '–', ...(destinationCountry === null ? [] : [destinationCountry])].join(' → ');

/** «POST tickets.example/account/sign-in», as far as the request shows it. */
export function targetOf(request: JudgedBody['request']): string {
  const port = request.port === undefined ? '' : `:${request.port}`;
  const query = request.query === undefined ? '' : `?${request.query}`;
  const method = request.method === undefined ? '' : `${request.method} `;
  return `${method}${request.host ?? ''}${port}${request.path ?? ''}${query}`;
}

/** Shortened in its middle: its beginning shows the method and the host, its end the path. */
function cut(text: string, room: number): string {
  if (text.length <= room) return text;
  const head = Math.floor((room - 1) / 2);
  return `${text.slice(0, head)}…${text.slice(text.length - (room - 1 - head))}`;
}
