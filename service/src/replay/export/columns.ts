import type { JudgedBody } from '@jade-fence/contract';

/** A column of exported requests, for forms that have columns. */
export interface ExportColumn {
  readonly name: string;
  readonly type: 'text' | 'whole' | 'time';
  readonly of: (request: JudgedBody) => string | number | undefined;
}

/** A field that requests show, by its name in our JSON Lines form. */
const shown = (name: string, type: ExportColumn['type'] = 'text'): ExportColumn => ({
  name,
  type,
  of: ({ request }) => {
    const value = request[name];
    return typeof value === 'object' ? undefined : value;
  },
});

/** What of a request has a column; headers, groups and what was met are in the JSON Lines form only. */
export const EXPORT_COLUMNS: readonly ExportColumn[] = [
  { name: 'number', type: 'whole', of: ({ number }) => number },
  { name: 'log', type: 'text', of: ({ log }) => log },
  { name: 'line', type: 'whole', of: ({ line }) => line },
  shown('time', 'time'),
  { name: 'client', type: 'text', of: ({ client }) => client ?? undefined },
  { name: 'country', type: 'text', of: ({ country }) => country ?? undefined },
  { name: 'destination_country', type: 'text', of: ({ destinationCountry }) => destinationCountry ?? undefined },
  ...['peer', 'destination', 'method', 'scheme', 'host'].map((name) => shown(name)),
  shown('port', 'whole'),
  ...['path', 'query', 'protocol', 'user', 'agent', 'referrer'].map((name) => shown(name)),
  ...['size', 'status', 'bytes'].map((name) => shown(name, 'whole')),
  { name: 'verdict', type: 'text', of: ({ verdict }) => verdict },
  { name: 'policy', type: 'text', of: ({ policy }) => policy ?? undefined },
  { name: 'rule', type: 'text', of: ({ policy, rule }) => (policy === null ? undefined : (rule ?? 'default')) },
];
