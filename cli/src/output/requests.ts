import type { JudgedBody } from '@jade-fence/service/bodies';
import { safe } from './safe.js';
import { table } from './table.js';
import type { Paint } from './terminal.js';
import { verdictWord } from './verdict.js';

const LONGEST_TARGET = 60;

/** Requests with what became of them, one a line. */
export function formatRequests(requests: readonly JudgedBody[], paint: Paint): string {
  const columns = [
    { title: '#', align: 'right' as const },
    ...['time', 'client', 'country', 'request', 'verdict', 'by'].map((title) => ({ title })),
  ];
  return table(
    columns,
    requests.map((each) => rowOf(each, paint)),
    paint,
  );
}

function rowOf({ number, request, client, country, verdict, policy, rule }: JudgedBody, paint: Paint): string[] {
  const time = typeof request.time === 'string' ? request.time.slice(0, 19).replace('T', ' ') : '–';
  const by = policy === null ? '–' : `${policy} / ${rule ?? 'default'}`;
  return [
    String(number),
    time,
    client ?? '–',
    country ?? '–',
    cut(safe(targetOf(request))),
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
