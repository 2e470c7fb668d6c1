import { formatRange } from '../address/index.js';
import { countryPhrase } from '../country/index.js';
import { type Condition, type SizeTerm, type Term, type Test, termsOf, type Value, valuesOf } from './condition.js';
import type { Field } from './field.js';
import { formatTerm } from './term-text.js';
import { domainWords, inWords, isPattern, portWords, sizeWords } from './words.js';

/** «POST requests for /sign-in, or requests from 10.0.0.0/8»: the requests that any of the conditions match. */
export const conditionSentence = (conditions: readonly Condition[]): string =>
  conditions.length === 0 ? 'requests' : conditions.map(requestsPhrase).join(', or ');

/** «POST requests for /sign-in to tickets.example from Portugal (PT)»: the method first, then what, where and who. */
function requestsPhrase(condition: Condition): string {
  const ordered = ORDER.flatMap((field) => condition.filter((test) => test.field === field));
  const method = ordered.find((test) => test.field === 'method' && valuesOf(test).every(({ type }) => type !== 'not'));
  const start = method ? `${inWords(asked(method).map(formatTerm), 'or')} requests` : 'requests';
  return [start, ...ordered.filter((test) => test !== method).map(testPhrase)].join(' ');
}

/** The order of the fields in a phrase. */
const ORDER = [
  ...(['method', 'size', 'path', 'query', 'url', 'application', 'category', 'host', 'port'] as const),
  ...([
    'scheme',
    'protocol',
    'destination',
    'destination-country',
    'user',
    'group',
    'client',
    'peer',
    'country',
  ] as const),
  ...(['agent', 'referrer', 'header', 'cookie', 'tag', 'time'] as const),
] as const satisfies readonly Field[];

const asked = (test: Test): Term[] =>
  valuesOf(test)
    .filter((value) => value.type !== 'not')
    .flatMap((value) => termsOf(value));

/** «from 192.0.2.7, or from any address except those in `partners`». */
function testPhrase(test: Test): string {
  const plain = asked(test);
  const negated = valuesOf(test).filter((value) => value.type === 'not');
  return [...(plain.length > 0 ? [matching(test, plain)] : []), ...negated.map((value) => except(test, value))].join(
    ', or ',
  );
}

function matching(test: Test, terms: readonly Term[]): string {
  switch (test.field) {
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie':
      return withText(test, terms);
    case 'size':
      return `of ${inWords(
        terms.map((term) => sizeWords(term as SizeTerm, false)),
        'or',
      )}`;
    default: {
      const words = WORDS[test.field];
      return `${words.link} ${inWords(nounsOf(terms, words, false), 'or')}`;
    }
  }
}

function except(test: Test, value: Value<Term>): string {
  const terms = termsOf(value);
  switch (test.field) {
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie':
      return withoutText(test, terms);
    case 'size':
      return `of ${inWords(
        terms.map((term) => sizeWords(term as SizeTerm, true)),
        'and',
      )}`;
    case 'tag':
    case 'time': {
      const words = WORDS[test.field];
      return `${words.any} ${inWords(nounsOf(terms, words, true), 'or')}`;
    }
    default: {
      const words = WORDS[test.field];
      if (words.some !== undefined && terms.every(({ type }) => type === 'none')) return `${words.link} ${words.some}`;
      return `${words.link} ${words.any} except ${inWords(nounsOf(terms, words, true), 'and')}`;
    }
  }
}

/** How a phrase speaks of a field: «from any address except those in `partners`». */
interface Words {
  readonly link: string;
  /** The part before `except`. */
  readonly any: string;
  /** The noun of a list or a pattern. */
  readonly of?: string;
  /** The noun of a name: «category `media`». */
  readonly one?: string;
  /** `uncategorised`, `unidentified`, `anonymous`. */
  readonly none?: string;
  /** The opposite of that. */
  readonly some?: string;
}

type TextField = 'agent' | 'referrer' | 'header' | 'query' | 'cookie';

const WORDS: Readonly<Record<Exclude<Field, TextField | 'size'>, Words>> = {
  method: { link: 'with', any: 'any method' },
  path: { link: 'for', any: 'any path', of: 'paths' },
  url: { link: 'for', any: 'any URL', of: 'URLs' },
  application: {
    ...{ link: 'of', any: 'anything', one: 'application' },
    ...{ none: 'unidentified applications', some: 'identified applications' },
  },
  category: {
    ...{ link: 'to', any: 'any destination', one: 'category' },
    ...{ none: 'uncategorised destinations', some: 'categorised destinations' },
  },
  host: { link: 'to', any: 'any host', of: 'hosts' },
  port: { link: 'to', any: 'any port' },
  scheme: { link: 'over', any: 'any scheme' },
  protocol: { link: 'over', any: 'any protocol' },
  destination: { link: 'to', any: 'any address', of: 'addresses' },
  'destination-country': { link: 'to destinations in', any: 'any country', of: 'a country' },
  user: { link: 'by', any: 'anyone', of: 'users', none: 'anonymous clients' },
  group: { link: 'by', any: 'anyone', of: 'members of groups', one: 'members of', none: 'members of no group' },
  client: { link: 'from', any: 'any address', of: 'addresses' },
  peer: { link: 'through', any: 'any peer', of: 'peers' },
  country: { link: 'from', any: 'anywhere', of: 'countries' },
  tag: { link: 'tagged', any: 'not tagged' },
  time: { link: 'during', any: 'outside' },
};

/** Values one by one, then lists together, then patterns together: «/map or paths matching /tour/* or /shop/*». */
function nounsOf(terms: readonly Term[], words: Words, negated: boolean): string[] {
  const { of = '', any } = words;
  // Nobody is «anywhere except those».
  const some = negated && any !== 'anywhere' ? 'those' : of;
  const lists = terms.flatMap((term) => (term.type === 'list' ? [`\`${term.name}\``] : []));
  const patterns = terms.filter(isPattern);
  const single = terms.filter((term) => term.type !== 'list' && !isPattern(term));
  return [
    ...single.map((term) => nounOf(term, words, negated)),
    ...(lists.length > 0 ? [`${some} in ${inWords(lists, 'or')}`] : []),
    ...(patterns.length > 0 ? [`${some} matching ${inWords(patterns.map(formatTerm), 'or')}`] : []),
  ];
}

function nounOf(term: Term, { one, none = '' }: Words, negated: boolean): string {
  const named = (text: string) => (one === undefined ? text : `${one} ${text}`);
  switch (term.type) {
    case 'range':
      return formatRange(term.range);
    case 'country':
      return countryPhrase(term.code);
    case 'unknown':
    case 'private':
      return countryPhrase(term.type);
    case 'host':
      return domainWords(term.pattern);
    case 'none':
    case 'anonymous':
      return none;
    case 'name':
      return named(`\`${term.name}\``);
    case 'port':
      return negated ? formatTerm(term) : portWords(term);
    default:
      return named(formatTerm(term));
  }
}

/** «with a user agent matching *curl* or in `harvesters`», «with no user agent». */
function withText(test: Test, terms: readonly Term[]): string {
  const predicates = terms.flatMap(textPredicate);
  return inWords(
    [
      ...(predicates.length > 0 ? [`with ${thing(test)} ${inWords(predicates, 'or')}`] : []),
      ...(terms.some(({ type }) => type === 'present') ? [`with ${thing(test)}`] : []),
      ...(terms.some(({ type }) => type === 'absent') ? [`with no ${bareThing(test)}`] : []),
    ],
    'or',
  );
}

/** «without a user agent matching *curl*»: those without any are among them. */
function withoutText(test: Test, terms: readonly Term[]): string {
  const predicates = terms.flatMap(textPredicate);
  return inWords(
    [
      ...(terms.some(({ type }) => type === 'present') ? [`with no ${bareThing(test)}`] : []),
      ...(terms.some(({ type }) => type === 'absent') ? [`with ${thing(test)}`] : []),
      ...(predicates.length > 0 ? [`without ${thing(test)} ${inWords(predicates, 'or')}`] : []),
    ],
    'and',
  );
}

function textPredicate(term: Term): string[] {
  if (term.type === 'present' || term.type === 'absent') return [];
  if (term.type === 'list') return [`in \`${term.name}\``];
  return [`${isPattern(term) ? 'matching' : 'equal to'} ${formatTerm(term)}`];
}

/** «header `x-api-key`», «user agent». */
function bareThing({ field, name }: Test): string {
  const kind = { agent: 'user agent', referrer: 'referrer', query: 'query parameter' } as Partial<
    Record<Field, string>
  >;
  return `${kind[field] ?? field}${name === undefined ? '' : ` \`${name}\``}`;
}

const thing = (test: Test): string => (test.name === undefined ? `a ${bareThing(test)}` : bareThing(test));
