import { rangeContains, setContains } from '../../address/index.js';
import { domainSetContains, patternMatches } from '../../domain/index.js';
import type { AddressTerm, CountryTerm, HostTerm, Negation, Test, Value } from '../../policy/index.js';
import { portOf } from '../../request/index.js';
import { pathMatches } from '../../url/index.js';
import type { Prepared } from '../prepared.js';
import type { Subject } from '../subject.js';
import { anyOf, not, type Truth, truthOf, unseen } from './truth.js';

/** Whether the field of the request is what the test asks for. */
export function testField(test: Test, subject: Subject, prepared: Prepared): Truth {
  const { request, client, origin } = subject;
  switch (test.field) {
    case 'client':
      return testValues(test, client.address, (term, seen) => addressIs(term, seen, prepared));
    case 'peer':
      return testValues(test, request.peer, (term, seen) => addressIs(term, seen, prepared));
    case 'country':
      return testValues(test, origin?.country, (term, seen) => countryIs(term, seen, prepared));
    case 'host':
      return testValues(test, request.host, (term, seen) => hostIs(term, seen, prepared));
    case 'path':
      return testValues(test, request.path, (term, seen) => pathMatches(term.pattern, seen));
    case 'method':
      return testValues(test, request.method, (term, seen) => term.method === seen);
    case 'scheme':
      return testValues(test, request.scheme, (term, seen) => term.token === seen);
    case 'protocol':
      return testValues(test, request.protocol?.toUpperCase(), (term, seen) => term.token === seen);
    case 'port':
      return testValues(test, portOf(request), (term, seen) => term.first <= seen && seen <= term.last);
  }
}

interface Tested<T> {
  readonly field: Test['field'];
  readonly values: readonly Value<T>[];
}

/** Any of the values may match; what the request does not carry is unseen, whatever is asked of it. */
function testValues<T extends { readonly type: string }, S>(
  test: Tested<T>,
  seen: S | undefined,
  is: (term: T, seen: S) => boolean,
): Truth {
  if (seen === undefined) return unseen(test.field);
  return anyOf(test.values.map((value) => testValue(value, (term) => truthOf(is(term, seen)))));
}

function testValue<T extends { readonly type: string }>(value: Value<T>, is: (term: T) => Truth): Truth {
  return isNot(value) ? not(anyOf(value.values.map(is))) : is(value as T);
}

function isNot<T extends { readonly type: string }>(value: Value<T>): value is Negation<T> {
  return value.type === 'not';
}

type Seen<F extends keyof Subject['request']> = NonNullable<Subject['request'][F]>;

export function addressIs(term: AddressTerm, address: Seen<'peer'>, { lists }: Prepared): boolean {
  if (term.type === 'range') return rangeContains(term.range, address);
  const set = lists.addresses.get(term.name);
  return set !== undefined && setContains(set, address);
}

export function countryIs(term: CountryTerm, country: string, { lists }: Prepared): boolean {
  switch (term.type) {
    case 'country':
      return term.code === country;
    case 'unknown':
    case 'private':
      return term.type === country;
    case 'list':
      return lists.countries.get(term.name)?.has(country) ?? false;
  }
}

export function hostIs(term: HostTerm, host: string, { lists }: Prepared): boolean {
  if (term.type === 'host') return patternMatches(term.pattern, host);
  const set = lists.domains.get(term.name);
  return set !== undefined && domainSetContains(set, host);
}
