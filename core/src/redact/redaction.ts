import { tryHeaderName } from '../text/index.js';

/** The parts of requests that are shown as pseudonyms. Plain data. */
export interface Redaction {
  /** Addresses of clients: `whole`, or with this many leading bits of an IPv4 address still shown. */
  readonly client: 'whole' | number | undefined;
  readonly user: boolean;
  /** The values of these headers, by their names in lower case, or of all. */
  readonly headers: 'all' | readonly string[];
  /** The values of these parameters of the query, or of all. */
  readonly query: 'all' | readonly string[];
}

export const NO_REDACTION: Redaction = { client: undefined, user: false, headers: [], query: [] };

/** How a redaction is written, for messages. */
export const REDACTION_FORMS = ['client', 'client/24', 'user', 'header', 'header.NAME', 'query', 'query.NAME'] as const;

/** Reads one word of a redaction; undefined where it is none. */
export function tryRedaction(word: string): Redaction | undefined {
  if (word === 'client') return { ...NO_REDACTION, client: 'whole' };
  if (word === 'user') return { ...NO_REDACTION, user: true };
  if (word === 'header') return { ...NO_REDACTION, headers: 'all' };
  if (word === 'query') return { ...NO_REDACTION, query: 'all' };
  const prefix = /^client\/(\d{1,2})$/.exec(word)?.[1];
  if (prefix !== undefined) {
    const bits = Number(prefix);
    return bits >= LEAST_PREFIX && bits <= MOST_PREFIX ? { ...NO_REDACTION, client: bits } : undefined;
  }
  const header = word.startsWith('header.') ? tryHeaderName(word.slice('header.'.length)) : undefined;
  if (header !== undefined) return { ...NO_REDACTION, headers: [header] };
  const parameter = /^query\.(.{1,200})$/.exec(word)?.[1];
  return parameter === undefined ? undefined : { ...NO_REDACTION, query: [parameter] };
}

/** The words that a redaction is written in. */
export function formatRedaction({ client, user, headers, query }: Redaction): string[] {
  const named = (what: 'header' | 'query', names: 'all' | readonly string[]) =>
    names === 'all' ? [what] : names.map((name) => `${what}.${name}`);
  return [
    ...(client === undefined ? [] : [client === 'whole' ? 'client' : `client/${client}`]),
    ...(user ? ['user'] : []),
    ...named('header', headers),
    ...named('query', query),
  ];
}

/** Shorter prefixes show next to nothing, and longer ones the client. */
const LEAST_PREFIX = 8;
const MOST_PREFIX = 28;

/** All that any of them redacts. */
export function redactedByAny(redactions: readonly Redaction[]): Redaction {
  return redactions.reduce(
    (all, each) => ({
      client: strongest(all.client, each.client),
      user: all.user || each.user,
      headers: union(all.headers, each.headers),
      query: union(all.query, each.query),
    }),
    NO_REDACTION,
  );
}

/** True where anything is hidden. */
export const isRedacting = ({ client, user, headers, query }: Redaction): boolean =>
  client !== undefined || user || headers.length > 0 || query.length > 0;

function strongest(a: Redaction['client'], b: Redaction['client']): Redaction['client'] {
  if (a === undefined || b === undefined) return a ?? b;
  return a === 'whole' || b === 'whole' ? 'whole' : Math.min(a, b);
}

const union = (a: 'all' | readonly string[], b: 'all' | readonly string[]): 'all' | readonly string[] =>
  a === 'all' || b === 'all' ? 'all' : [...new Set([...a, ...b])];
