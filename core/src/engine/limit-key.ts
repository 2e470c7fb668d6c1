import { type Address, formatAddress, networkOf } from '../address/index.js';
import { tupleKey, tupleOf } from '../column/index.js';
import { type Field, fieldName } from '../condition/index.js';
import { type KeyPart, type Limit } from '../limit/index.js';
import { portOf, textValues } from '../request/index.js';
import { normalQuery } from '../url/index.js';
import type { Unseen } from './decision.js';
import { countriesText } from './semantics/destinations.js';
import { namesOf } from './semantics/user-names.js';
import type { Subject } from './subject.js';

/** The input of keys. */
export type Keyed = Pick<Subject, 'request' | 'client' | 'destinations' | 'destinationCountries' | 'path'> & {
  readonly origin: { readonly country: string } | undefined;
};

/** The parts of a key, as a person would read them. */
export function keyTexts(per: readonly KeyPart[], key: string): string[] {
  return tupleOf(key).map((text = '', at) => {
    if (!isOfValues((per[at] as KeyPart).field)) return text;
    const values = tupleOf(text);
    return values.length === 0 ? '(none)' : values.join(', ');
  });
}

/** A key as one text. */
export const keyText = (parts: readonly string[]): string => (parts.length === 0 ? 'all' : parts.join(' '));

/** The key that a request counts under, when, and with which amount; or the unseen fields. */
export type LimitKey =
  | { readonly key: string; readonly time: number; readonly amount: number }
  | { readonly unseen: readonly Unseen[] };

/** Fields of which a request has any number of values, so that none and an empty one are different keys. */
const OF_VALUES: readonly Field[] = ['user', 'group', 'agent', 'referrer', 'header', 'query', 'cookie'];
const isOfValues = (field: Field): boolean => OF_VALUES.includes(field);

/** The key that a limit counts a request under, or the fields that it needs and the request does not show. */
export function limitKey(limit: Limit, subject: Keyed): LimitKey {
  const { time, bytes } = subject.request;
  const parts = limit.per.map((part) => ({ part, text: keyPart(part, subject) }));
  const unseen: Unseen[] = parts.filter(({ text }) => text === undefined).map(({ part }) => fieldName(part));
  if (time === undefined) unseen.push('time');
  if (limit.counts === 'bytes' && bytes === undefined) unseen.push('bytes');
  if (unseen.length > 0 || time === undefined) return { unseen: [...new Set(unseen)] };
  return {
    key: tupleKey(parts.map(({ text }) => text)),
    time,
    amount: limit.counts === 'bytes' ? (bytes as number) : 1,
  };
}

/** The part of a key as text, of several values as a tuple of them; undefined where the request does not show it. */
export function keyPart(
  { field, name, prefix }: KeyPart,
  { request, client, origin, destinations, destinationCountries, path }: Keyed,
): string | undefined {
  switch (field satisfies Field) {
    case 'client':
      return addressPart(client.address, prefix);
    case 'peer':
      return addressPart(request.peer, prefix);
    case 'destination':
      return destinations && destinationsPart(destinations, prefix);
    case 'country':
      return origin?.country;
    case 'destination-country':
      return destinationCountries && countriesText(destinationCountries);
    case 'host':
      return request.host;
    case 'path':
      return path;
    case 'method':
      return request.method;
    case 'scheme':
      return request.scheme;
    case 'protocol':
      return request.protocol?.toUpperCase();
    case 'url':
      return request.host === undefined || path === undefined
        ? undefined
        : `${request.host}${path}?${normalQuery(request.query ?? '')}`;
    case 'port':
      return portOf(request)?.toString();
    case 'user':
    case 'group':
      return valuesKey(namesOf(field as 'user' | 'group', request)?.toSorted());
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie':
      return valuesKey(textValues(request, field as 'header', name ?? ''));
    case 'size':
    case 'time':
    case 'tag':
    case 'category':
    case 'application':
      // No key is read with these, for they are not one value of a request.
      return undefined;
  }
}

/** The addresses, or their networks, of one destination: in order, each once, parted by blanks, which no address has. */
export const destinationsPart = (addresses: readonly Address[], prefix: number | undefined): string =>
  [...new Set(addresses.map((address) => addressPart(address, prefix)))].join(' ');

const valuesKey = (values: readonly string[] | undefined): string | undefined => values && tupleKey(values);

const MOST_4 = 32;
/** The network of a typical IPv6 site, used when a prefix is meant for IPv4. */
const SITE_6 = 64;

/** The address, or its network. A prefix of IPv4 leaves IPv6 to its /64 networks; one of IPv6 leaves IPv4 whole. */
export function addressPart(address: Address | undefined, prefix: number | undefined): string | undefined {
  if (address === undefined) return undefined;
  const length = prefix === undefined || address.family === 4 ? prefix : prefix <= MOST_4 ? SITE_6 : prefix;
  if (length === undefined || (address.family === 4 && length > MOST_4)) return formatAddress(address);
  return `${formatAddress(networkOf(address, length).first)}/${length}`;
}
