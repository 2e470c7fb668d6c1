import type { JudgedBody } from '@jade-fence/service/bodies';
import { safe } from './safe.js';
import { table } from './table.js';
import type { Paint } from './terminal.js';
import { verdictWord } from './verdict.js';

const LONGEST_TARGET = 60;

/** Columns that stand before the verdict. */
interface MoreColumns<T> {
  readonly titles: readonly string[];
  readonly cells: (request: T) => readonly string[];
}

/** Requests with what became of them, one a line. */
export function formatRequests<T extends JudgedBody>(
  requests: readonly T[],
  paint: Paint,
  more: MoreColumns<T> = { titles: [], cells: () => [] },
): string {
  const titles = ['time', 'client', 'country', 'request', ...more.titles, 'verdict', 'by'];
  const columns = [{ title: '#', align: 'right' as const }, ...titles.map((title) => ({ title }))];
  return table(
    columns,
    requests.map((each) => rowOf(each, more.cells(each), paint)),
    paint,
  );
}

function rowOf(judged: JudgedBody, more: readonly string[], paint: Paint): string[] {
  const { number, request, client, country, verdict, policy, rule } = judged;
  const time = typeof request.time === 'string' ? request.time.slice(0, 19).replace('T', ' ') : '–';
  const by = policy === null ? '–' : `${policy} / ${rule ?? 'default'}`;
  return [
    String(number),
    time,
    client ?? '–',
    country ?? '–',
    cut(safe(targetOf(request))),
    ...more,
    verdictWord(verdict, paint),
    by,
  ];
}

/** «POST tickets.example/account/sign-in», as far as the request shows it. */
export function targetOf(request: JudgedBody['request']): string {
  const port = request.port === undefined ? '' : `:${request.port}`;
  const query = request.query === undefined ? '' : `?${request.query}`;
  const method = request.method === undefined ? '' : `${request.method} `;
  return `${method}${request.host ?? ''}${port}${request.path ?? ''}${query}`;
}

const cut = (text: string): string => (text.length > LONGEST_TARGET ? `${text.slice(0, LONGEST_TARGET - 1)}…` : text);
