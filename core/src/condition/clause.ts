import { formatRange } from '../address/index.js';
import { countryPhrase } from '../country/index.js';
import { type Condition, type Term, type Test, termsOf, valuesOf } from './condition.js';
import type { Field } from './field.js';
import { formatTerm } from './term-text.js';
import { inWords, isPattern, sizeWords } from './words.js';

/** «the client is in `curators`, or the path is /x and the method is GET»: what exceptions say of a request. */
export function exceptionSentence(conditions: readonly Condition[]): string {
  const clauses = conditions.map((condition) => condition.map(testClause).join(' and '));
  return clauses.length < 2 ? clauses.join('') : `either ${clauses.join(', or ')}`;
}

function testClause(test: Test): string {
  const values = valuesOf(test);
  const plain = values.filter((value) => value.type !== 'not').flatMap((value) => termsOf(value));
  const negated = values.filter((value) => value.type === 'not');
  const shown = [
    ...(plain.length > 0 ? [anyOf(plain.map((term) => predicateOf(test.field, term).is))] : []),
    ...negated.map((value) => noneOf(termsOf(value).map((term) => predicateOf(test.field, term).isNot))),
  ];
  return `${subjectOf(test)} ${shown.join(', or ')}`;
}

/** «is 192.0.2.7 or in `curators`». */
const anyOf = (predicates: readonly string[]): string =>
  joined(predicates, 'is ', 'or') ?? joined(predicates, 'matches ', 'or') ?? inWords(predicates, 'or');

/** «is not 192.0.2.7 or in `curators`». */
const noneOf = (predicates: readonly string[]): string =>
  joined(predicates, 'is not ', 'or') ?? joined(predicates, 'does not match ', 'or') ?? inWords(predicates, 'and');

/** The predicates with their verb written once; undefined when their verbs differ. */
function joined(predicates: readonly string[], verb: string, last: 'or' | 'and'): string | undefined {
  if (!predicates.every((predicate) => predicate.startsWith(verb))) return undefined;
  const rests = predicates.map((predicate) => predicate.slice(verb.length));
  return `${verb}${inWords(rests, last)}`;
}

const SUBJECTS: Partial<Record<Field, string>> = {
  agent: 'the user agent',
  category: 'the destination',
  cookie: 'cookie',
  'destination-country': 'the destination’s country',
  group: 'the user',
  header: 'header',
  query: 'query parameter',
  tag: 'the request',
  url: 'the URL',
};

const subjectOf = ({ field, name }: Test): string =>
  `${SUBJECTS[field] ?? `the ${field}`}${name === undefined ? '' : ` \`${name}\``}`;

/** The predicate of a subject, and its negation. */
interface Predicate {
  readonly is: string;
  readonly isNot: string;
}

const be = (text: string): Predicate => ({ is: `is ${text}`, isNot: `is not ${text}` });

function predicateOf(field: Field, term: Term): Predicate {
  if (isPattern(term)) return { is: `matches ${formatTerm(term)}`, isNot: `does not match ${formatTerm(term)}` };
  switch (term.type) {
    case 'list':
      return be(field === 'group' ? `in a group of \`${term.name}\`` : `in \`${term.name}\``);
    case 'range': {
      const text = formatRange(term.range);
      return be(/[/-]/.test(text) ? `in ${text}` : text);
    }
    case 'country':
      return be(countryPhrase(term.code));
    case 'unknown':
      return be('unknown');
    case 'private':
      return be('private address space');
    case 'host': {
      const { reach, name } = term.pattern;
      if (reach === 'exact') return be(name);
      return be(reach === 'under' ? `${name} or a subdomain of it` : `a subdomain of ${name}`);
    }
    case 'none':
      return be(field === 'category' ? 'uncategorised' : 'unidentified');
    case 'anonymous':
      return be(field === 'group' ? 'in no group' : 'anonymous');
    case 'name':
      if (field === 'time') return { is: `is within \`${term.name}\``, isNot: `is outside \`${term.name}\`` };
      return be(`${NAME_LEADS[field] ?? ''}\`${term.name}\``);
    case 'user':
      return be(field === 'group' ? `in group ${term.user}` : term.user);
    case 'port':
      return be(term.first === term.last ? formatTerm(term) : `in ${formatTerm(term)}`);
    case 'size':
      return { is: `is ${sizeWords(term, false)}`, isNot: `is ${sizeWords(term, true)}` };
    case 'present':
      return { is: 'is present', isNot: 'is absent' };
    case 'absent':
      return { is: 'is absent', isNot: 'is present' };
    default:
      return be(formatTerm(term));
  }
}

const NAME_LEADS: Partial<Record<Field, string>> = { category: 'in category ', tag: 'tagged ' };
