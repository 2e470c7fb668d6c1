import { type Address, rangeContains, setContains } from '../../address/index.js';
import {
  type AddressTerm,
  type Condition,
  type CountryTerm,
  fieldName,
  type HostTerm,
  type NameTerm,
  type Negation,
  type NoneTerm,
  sizeCompares,
  type Test,
  type TextTerm,
  type UrlTerm,
  type UserTerm,
  type Value,
} from '../../condition/index.js';
import { domainSetContains, patternMatches } from '../../domain/index.js';
import { textMatches } from '../../pattern/index.js';
import { portOf, textValues } from '../../request/index.js';
import { scheduleHolds } from '../../schedule/index.js';
import { pathMatches, pathPatternUnder, urlMatches, urlPatternUnder } from '../../url/index.js';
import type { Prepared } from '../prepared.js';
import { allOf, anyOf, not, type Truth, truthOf, unseen } from '../semantics/truth.js';
import { namesOf } from '../semantics/user-names.js';
import type { Subject } from '../subject.js';

/** The input of a test: the request as its policy sees it, and the tags that rules above have set. */
export interface Judged {
  readonly subject: Subject;
  readonly tags: ReadonlySet<string>;
  readonly prepared: Prepared;
}

/** Any of the conditions holds, all tests of which must. */
export function conditionsHold(conditions: readonly Condition[], judged: Judged): Truth {
  return anyOf(conditions.map((condition) => allOf(condition.map((test) => testField(test, judged)))));
}

/** Whether the field of the request matches the test. */
export function testField(test: Test, judged: Judged): Truth {
  const { subject, tags, prepared } = judged;
  const { request, client, origin, destinations, destinationCountries } = subject;
  switch (test.field) {
    case 'client':
      return testSeen(test, client.address, (term, seen) => addressIs(term, seen, prepared));
    case 'peer':
      return testSeen(test, request.peer, (term, seen) => addressIs(term, seen, prepared));
    case 'destination':
      return testSeen(test, destinations, (term, seen) => seen.some((each) => addressIs(term, each, prepared)));
    case 'country':
      return testSeen(test, origin?.country, (term, seen) => countryIs(term, seen, prepared));
    case 'destination-country':
      return testSeen(test, destinationCountries, (term, seen) => seen.some((each) => countryIs(term, each, prepared)));
    case 'host':
      return testSeen(test, request.host, (term, seen) => hostIs(term, seen, prepared));
    case 'path':
      return testSeen(test, subject.path, (term, seen) =>
        pathMatches(pathPatternUnder(subject.paths, term.pattern), seen),
      );
    case 'url':
      return testValues(test, (term) => urlIs(term, subject, prepared));
    case 'category':
      return testValues(test, (term) => memberOf(term, prepared.categories, judged));
    case 'application':
      return testValues(test, (term) => memberOf(term, prepared.applications, judged));
    case 'tag':
      return testSeen(test, tags, (term, seen) => seen.has(term.name));
    case 'method':
    case 'scheme':
      return testSeen(test, request[test.field], (term, seen) => term.token === seen);
    case 'protocol':
      return testSeen(test, request.protocol?.toUpperCase(), (term, seen) => term.token === seen);
    case 'port':
      return testSeen(test, portOf(request), (term, seen) => term.first <= seen && seen <= term.last);
    case 'user':
    case 'group':
      return testSeen(test, namesOf(test.field, request), (term, seen) => userIs(term, seen, prepared));
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie':
      return testSeen(test, textValues(request, test.field, test.name ?? ''), (term, seen) =>
        textIs(term, seen, prepared),
      );
    case 'size':
      return testSeen(test, request.size, (term, seen) => sizeCompares(seen, term));
    case 'time':
      return testSeen(test, request.time, (term, seen) => {
        const schedule = prepared.workspace.schedules.get(term.name);
        return schedule !== undefined && scheduleHolds(schedule, seen);
      });
  }
}

type Tested<T> = Pick<Test, 'field' | 'name'> & { readonly values: readonly Value<T>[] };
type Typed = { readonly type: string };

/** A field that the request does not carry is unseen for every test. */
function testSeen<T extends Typed, S>(test: Tested<T>, seen: S | undefined, is: (term: T, seen: S) => boolean): Truth {
  if (seen === undefined) return unseen(fieldName(test));
  return testValues(test, (term) => truthOf(is(term, seen)));
}

/** Any of the values may match. When none does and some are unseen, the field is unseen. */
function testValues<T extends Typed>(test: Tested<T>, is: (term: T) => Truth): Truth {
  const truth = anyOf(test.values.map((value) => (isNot(value) ? not(anyOf(value.values.map(is))) : is(value as T))));
  return truth.holds === 'unseen' ? unseen(fieldName(test)) : truth;
}

function isNot<T extends Typed>(value: Value<T>): value is Negation<T> {
  return value.type === 'not';
}

function addressIs(term: AddressTerm, address: Address, { lists }: Prepared): boolean {
  if (term.type === 'range') return rangeContains(term.range, address);
  const set = lists.addresses.get(term.name);
  return set !== undefined && setContains(set, address);
}

function countryIs(term: CountryTerm, country: string, { lists }: Prepared): boolean {
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

function hostIs(term: HostTerm, host: string, { lists }: Prepared): boolean {
  if (term.type === 'host') return patternMatches(term.pattern, host);
  const set = lists.domains.get(term.name);
  return set !== undefined && domainSetContains(set, host);
}

function urlIs(term: UrlTerm, { request, path, paths }: Subject, { lists }: Prepared): Truth {
  const seen = { ...request, path, port: portOf(request) };
  const patterns = term.type === 'url' ? [term.pattern] : (lists.urls.get(term.name) ?? []);
  return anyOf(
    patterns.map((pattern): Truth => {
      const holds = urlMatches(urlPatternUnder(paths, pattern), seen);
      return holds === 'unseen' ? unseen('url') : { holds };
    }),
  );
}

/** Whether the request belongs to the category or application that is named, or to none that there is. */
function memberOf(term: NameTerm | NoneTerm, all: ReadonlyMap<string, readonly Condition[]>, judged: Judged): Truth {
  if (term.type === 'name') return conditionsHold(all.get(term.name) ?? [], judged);
  return not(anyOf([...all.values()].map((conditions) => conditionsHold(conditions, judged))));
}

function userIs(term: UserTerm, names: readonly string[], { lists }: Prepared): boolean {
  switch (term.type) {
    case 'anonymous':
      return names.length === 0;
    case 'user':
      return names.includes(term.user);
    case 'list':
      return names.some((name) => lists.users.get(term.name)?.has(name));
  }
}

function textIs(term: TextTerm, texts: readonly string[], { lists }: Prepared): boolean {
  switch (term.type) {
    case 'present':
      return texts.length > 0;
    case 'absent':
      return texts.length === 0;
    case 'text':
      return texts.some((text) => textMatches(term.pattern, text));
    case 'list':
      return (lists.agents.get(term.name) ?? []).some((pattern) => texts.some((text) => textMatches(pattern, text)));
  }
}
