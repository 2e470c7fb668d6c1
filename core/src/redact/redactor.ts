import { formatAddress, networkOf, parseAddress } from '../address/index.js';
import { OWN_FIELDS } from '../request/index.js';
import type { Redaction } from './redaction.js';

/** Makes a pseudonym of a value: the same for the same value, and of no use without the key. */
export type Pseudonym = (kind: PseudonymKind, value: string) => string;
export type PseudonymKind = 'client' | 'user' | 'header' | 'query' | 'key';

/** A client whose address is hidden, alone or with its network. */
const CLIENT = /^(client-[0-9a-f]{12})(?: in \S+)?$/;

/** The pseudonym of a client that the text is; undefined where it is none. */
export const clientPseudonym = (text: string): string | undefined => CLIENT.exec(text)?.[1];

/** A request as it is shown: its fields by their short names, and its client. */
export interface Shown {
  readonly request: Readonly<Record<string, unknown>>;
  readonly client: string | null;
  /** The explanation, which may contain the network of the client. */
  readonly explanation?: unknown;
}

/** The headers that fields of a key are read from. */
const HEADER_OF: Readonly<Record<string, string>> = { agent: 'user-agent', referrer: 'referer', cookie: 'cookie' };
const KNOWN_NONE = ['anonymous', 'absent', ''];
const SITE_6 = 64;
const HIDDEN_NETWORK = 'a hidden network';
/** Divides addresses in headers that have several. */
const NO_ADDRESS = /[^0-9a-fA-F.:]+/;

/**
 * Replaces what is hidden by pseudonyms. All output about a request, such as an explanation, has the
 * same values in it, and they go there too.
 */
export class Redactor {
  readonly #redaction: Redaction;
  readonly #pseudonym: Pseudonym;

  constructor(redaction: Redaction, pseudonym: Pseudonym) {
    this.#redaction = redaction;
    this.#pseudonym = pseudonym;
  }

  /** A request, with everything that it shows. */
  shown<T extends Shown>(shown: T): T {
    const secrets = this.#secretsOf(shown);
    return secrets.size === 0 ? shown : replaced(shown, secrets);
  }

  /** A client of a breakdown. */
  client(address: string): string {
    return this.#redaction.client === undefined ? address : this.#clientName(address);
  }

  /** The parts of a key that a limit counts under, each by the field that it is of, as it is written in the rule. */
  key(per: readonly string[], parts: readonly string[]): string[] {
    return parts.map((part, at) => this.#part(per[at] as string, part));
  }

  #part(field: string, part: string): string {
    const [name = '', bits] = field.split('/');
    if (name === 'client' || name === 'peer') return this.#network(part, bits);
    const header = name.startsWith('header.') ? name.slice('header.'.length) : HEADER_OF[name.split('.')[0] as string];
    const isSecret =
      (name === 'user' && this.#redaction.user) ||
      (header !== undefined && (this.#hides(header) || (this.#redaction.client !== undefined && namesClients(part)))) ||
      (['query', 'url', 'referrer'].includes(name.split('.')[0] as string) && this.#hidesParameter(name));
    return isSecret && !KNOWN_NONE.includes(part) && part !== '(none)' ? this.#pseudonym('key', part) : part;
  }

  /** An address, or a network where that is wide enough to be shown. */
  #network(part: string, bits: string | undefined): string {
    const { client } = this.#redaction;
    if (client === undefined) return part;
    const [address = '', length] = part.split('/');
    const known = parseAddress(address);
    if (known === undefined) return part;
    if (bits === undefined || length === undefined) return this.#clientName(address);
    const widest = client === 'whole' ? -1 : known.family === 4 ? client : SITE_6;
    return Number(length) <= widest ? part : this.#pseudonym('client', part);
  }

  #hidesParameter(field: string): boolean {
    const { query } = this.#redaction;
    return (
      query === 'all' || (field.startsWith('query.') ? query.includes(field.slice('query.'.length)) : query.length > 0)
    );
  }

  /** A user agent of a rule's evidence. */
  agent(agent: string): string {
    return this.#hides('user-agent') && !KNOWN_NONE.includes(agent) ? this.#pseudonym('header', agent) : agent;
  }

  #clientName(text: string): string {
    const address = parseAddress(text);
    if (address === undefined) return text;
    const name = this.#pseudonym('client', formatAddress(address));
    const { client } = this.#redaction;
    if (typeof client !== 'number') return name;
    const bits = address.family === 4 ? client : SITE_6;
    return `${name} in ${formatAddress(networkOf(address, bits).first)}/${bits}`;
  }

  #hides(header: string): boolean {
    const { headers } = this.#redaction;
    return headers === 'all' || headers.includes(header);
  }

  /** The values that must not be shown, with what to show instead. */
  #secretsOf({ request, client, explanation }: Shown): Map<string, string> {
    const secrets = new Map<string, string>();
    if (this.#redaction.client !== undefined) this.#addClients(secrets, request, client);
    const network = networkIn(explanation);
    if (this.#redaction.client === 'whole' && network !== undefined) secrets.set(network, HIDDEN_NETWORK);
    for (const { per, key } of limitsIn(explanation))
      for (const [at, shown] of this.key(per, key).entries())
        if (shown !== key[at]) secrets.set(key[at] as string, shown);
    const { user } = request;
    if (this.#redaction.user && typeof user === 'string' && !KNOWN_NONE.includes(user))
      secrets.set(user, this.#pseudonym('user', user));
    for (const [name, value] of headersOf(request))
      if (this.#hides(name) && !KNOWN_NONE.includes(value)) secrets.set(value, this.#pseudonym('header', value));
    if (this.#redaction.query.length > 0)
      for (const query of queriesOf(request))
        for (const value of this.#hiddenIn(query)) secrets.set(value, this.#pseudonym('query', value));
    return secrets;
  }

  #addClients(secrets: Map<string, string>, request: Shown['request'], client: string | null): void {
    // Any header may name the client, whichever the policy takes it from.
    const words = [client, request.peer, ...headersOf(request).map(([, value]) => value)];
    for (const text of words)
      for (const found of typeof text === 'string' ? text.split(NO_ADDRESS) : []) {
        const bare = addressIn(found);
        if (bare !== undefined) secrets.set(bare, this.#clientName(bare));
      }
  }

  /** The values of the hidden parameters, as written and decoded. */
  #hiddenIn(query: string): string[] {
    const { query: hidden } = this.#redaction;
    return query.split('&').flatMap((pair) => {
      const at = pair.indexOf('=');
      const name = decoded(at < 0 ? pair : pair.slice(0, at));
      const value = at < 0 ? '' : pair.slice(at + 1);
      const hides = hidden === 'all' || hidden.includes(name);
      return hides && value !== '' ? [value, decoded(value)] : [];
    });
  }
}

/** The network that an explanation says the client’s country by. */
function networkIn(explanation: unknown): string | undefined {
  const { country } = (explanation ?? {}) as { readonly country?: { readonly network?: unknown } };
  return typeof country?.network === 'string' ? country.network : undefined;
}

/** The keys that an explanation says a request is counted under. */
function limitsIn(explanation: unknown): { readonly per: readonly string[]; readonly key: readonly string[] }[] {
  const { rules } = (explanation ?? {}) as {
    readonly rules?: readonly {
      readonly limit?: { readonly per: readonly string[]; readonly key: readonly string[] | null } | null;
    }[];
  };
  return (rules ?? []).flatMap(({ limit }) => (limit?.key ? [{ per: limit.per, key: limit.key }] : []));
}

/** All values of headers that are shown, those with fields of their own too. */
function headersOf(request: Shown['request']): [string, string][] {
  const words = [request.headers, request['some-headers']].flatMap((each) => Object.entries(each ?? {}));
  const own = [...OWN_FIELDS].map(([name, field]) => [name, request[field]] as const);
  return [...words, ...own].flatMap(([name, value]) =>
    [value].flat().flatMap((each): [string, string][] => (typeof each === 'string' ? [[name, each]] : [])),
  );
}

/** Whether a text names an address, as a forwarding header does. */
const namesClients = (text: string): boolean => text.split(NO_ADDRESS).some((each) => addressIn(each) !== undefined);

/** The address of a hop, with or without its port. */
function addressIn(text: string): string | undefined {
  const bare = /^[\d.]+:\d+$/.test(text) ? text.replace(/:\d+$/, '') : text;
  return parseAddress(bare) === undefined ? undefined : bare;
}

/** The queries of the request and of the page that it came from. */
function queriesOf({ query, referrer }: Shown['request']): string[] {
  const from = typeof referrer === 'string' ? referrer.split('?')[1]?.split('#')[0] : undefined;
  return [query, from].filter((each): each is string => typeof each === 'string');
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text.replaceAll('+', ' '));
  } catch {
    return text;
  }
}

/** The value with every text in it, names of fields aside, cleared of the secrets. */
function replaced<T>(value: T, secrets: ReadonlyMap<string, string>): T {
  // The longest first, so that what contains another is not taken apart.
  const ordered = [...secrets.keys()].sort((a, b) => b.length - a.length);
  const any = new RegExp(`(?<![\\w.:-])(?:${ordered.map(escaped).join('|')})(?![\\w:-]|\\.\\w)`, 'g');
  const walk = (each: unknown): unknown => {
    if (typeof each === 'string')
      return secrets.get(each) ?? each.replace(any, (found) => secrets.get(found) as string);
    if (Array.isArray(each)) return each.map(walk);
    if (each !== null && typeof each === 'object')
      return Object.fromEntries(Object.entries(each).map(([name, own]) => [name, walk(own)]));
    return each;
  };
  return walk(value) as T;
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
