import { type Document, isMap, parseDocument, stringify } from 'yaml';
import type { Address } from '../address/index.js';
import { formatAddress } from '../address/index.js';
import type { Verdict } from '../policy/index.js';
import type { Request } from '../request/index.js';

/** A request that was seen, and the answer that is expected of it from now on. */
export interface Expectation {
  readonly request: Request;
  /** The client as its policy resolved it. */
  readonly client: Address | undefined;
  readonly verdict: Verdict | 'uncovered';
}

/** The texts of objects that there are already, by their names; undefined where there is none. */
export interface KnownTexts {
  readonly probe: (name: string) => string | undefined;
  readonly check: string | undefined;
}

export interface ExpectedTexts {
  readonly probe: { readonly name: string; readonly text: string };
  readonly check: string;
  readonly destination: string;
}

const LONGEST_NAME = 56;

/**
 * Writes an expectation into a check, as documents: the client becomes a probe, unless there is one like it, and what it
 * tried a destination. The rest of the check stays, comments too.
 */
export function withExpectation(
  name: string,
  { request, client, verdict }: Expectation,
  known: KnownTexts,
): ExpectedTexts {
  const probe = probeFor(request, client, known.probe);
  const check = parseDocument(known.check ?? stringify(newCheck(name, request)));
  const wanted = destinationOf(request);
  const destination = nameFor(check, slug([request.host, request.path].join(' ')), wanted);
  check.setIn(['destinations', destination], check.createNode(wanted));
  if (!isMap(check.getIn(['expect', probe.name]))) check.setIn(['expect', probe.name], check.createNode({}));
  check.setIn(['expect', probe.name, destination], verdict);
  return { probe, check: String(check), destination };
}

/** Made at the time of the request, so that schedules give the same answer ever after. */
function newCheck(check: string, { time }: Request): object {
  const at = time === undefined ? {} : { at: new Date(time).toISOString() };
  return { check, ...at, destinations: {}, expect: {} };
}

function probeFor(
  { user, groups, agent }: Request,
  client: Address | undefined,
  known: KnownTexts['probe'],
): ExpectedTexts['probe'] {
  const seen = {
    ...(client && { client: formatAddress(client) }),
    ...(user !== undefined && { user: user === '' ? 'anonymous' : user }),
    ...(groups !== undefined && { groups: [...groups] }),
    ...(agent !== undefined && { agent: agent === '' ? 'absent' : agent }),
  };
  const base = slug(client ? `at ${formatAddress(client)}` : 'somebody');
  for (let number = 1; ; number++) {
    const name = number === 1 ? base : `${base}-${number}`;
    const text = stringify({ probe: name, note: 'From a log', ...seen });
    const old = known(name);
    if (old === undefined || old === text) return { name, text };
  }
}

function destinationOf({ method, scheme, host, port, path, query }: Request): object | string {
  const at = host ?? '';
  if (path === undefined) return { tunnel: `${at}:${port ?? 443}` };
  const url = `${scheme ?? 'https'}://${at}${port === undefined ? '' : `:${port}`}${path}${query ? `?${query}` : ''}`;
  return method === undefined || method === 'GET' ? url : { url, method };
}

/** A name of the check’s destinations that nothing else has. */
function nameFor(check: Document, base: string, wanted: object | string): string {
  const shown = JSON.stringify(wanted);
  for (let number = 1; ; number++) {
    const name = number === 1 ? base : `${base}-${number}`;
    const old = check.getIn(['destinations', name]);
    if (old === undefined || JSON.stringify(old) === shown) return name;
  }
}

const slug = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+/, '')
    .slice(0, LONGEST_NAME)
    .replace(/-+$/, '') || 'somewhere';
