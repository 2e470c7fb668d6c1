import type {
  CountryTerm,
  NameTerm,
  NoneTerm,
  PortTerm,
  SizeTerm,
  TokenTerm,
  UserTerm,
} from '../../../condition/index.js';
import { sizeCompares } from '../../../condition/index.js';
import { scheduleHolds } from '../../../schedule/index.js';
import type { PreparedRules } from '../../prepared.js';
import { type Matcher, numbered, post } from './matcher.js';

const NONE: number[] = [];

/** Matches a method, scheme or protocol, in the case of letters that terms have. */
export function matchTokens(terms: readonly TokenTerm[]): Matcher<string> {
  const byToken = new Map(terms.map((term, number) => [term.token, [number]]));
  return (token) => byToken.get(token) ?? NONE;
}

/** The codes of countries, `private` and `unknown`. */
export function matchCountries(terms: readonly CountryTerm[], { lists }: PreparedRules): Matcher<string> {
  const postings = new Map<string, number[]>();
  terms.forEach((term, number) => {
    if (term.type === 'list') for (const code of lists.countries.get(term.name) ?? []) post(postings, code, number);
    else post(postings, term.type === 'country' ? term.code : term.type, number);
  });
  return (country) => postings.get(country) ?? NONE;
}

/** The names of a user or of groups; none: anonymous. */
export function matchUsers(terms: readonly UserTerm[], { lists }: PreparedRules): Matcher<readonly string[]> {
  const postings = new Map<string, number[]>();
  for (const { term, number } of numbered(terms, 'user')) post(postings, term.user, number);
  for (const { term, number } of numbered(terms, 'list'))
    for (const user of lists.users.get(term.name) ?? []) post(postings, user, number);
  const anonymous = numbered(terms, 'anonymous').map(({ number }) => number);
  return (names) => (names.length === 0 ? anonymous : names.flatMap((name) => postings.get(name) ?? NONE));
}

/** Matches a port against ports and ranges of them. */
export function matchPorts(terms: readonly PortTerm[]): Matcher<number> {
  return (port) => terms.flatMap((term, number) => (term.first <= port && port <= term.last ? [number] : []));
}

/** Matches a size in bytes against comparisons. */
export function matchSizes(terms: readonly SizeTerm[]): Matcher<number> {
  return (size) => terms.flatMap((term, number) => (sizeCompares(size, term) ? [number] : []));
}

/** Matches a time, in milliseconds since 1970, against schedules by their names. */
export function matchSchedules(terms: readonly NameTerm[], { workspace }: PreparedRules): Matcher<number> {
  const schedules = terms.map((term) => workspace.schedules.get(term.name));
  return (instant) => {
    const held: number[] = [];
    for (const [number, schedule] of schedules.entries())
      if (schedule !== undefined && scheduleHolds(schedule, instant)) held.push(number);
    return held;
  };
}

/** The names of tags, categories or applications; `none` is a term of its own. */
export function numbersOfNames(terms: readonly (NameTerm | NoneTerm)[]): ReadonlyMap<string, number> {
  return new Map(numbered(terms, 'name').map(({ term, number }) => [term.name, number]));
}
