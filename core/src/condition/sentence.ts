import { formatRange } from '../address/index.js';
import { tellCountry } from '../country/index.js';
import type { DomainPattern } from '../domain/index.js';
import { type Condition, type Term, type Test, termsOf, valuesOf } from './condition.js';
import { fieldName } from './field.js';
import { CLAUSES, type Manner, PHRASE_ORDER, PHRASES } from './manner.js';
import { formatAmount } from './size.js';
import { formatTerm } from './term-text.js';

const MOST_TOLD = 6;

/** «POST requests for /sign-in, or requests from 10.0.0.0/8»: what conditions, of which any may hold, match. */
export function conditionSentence(conditions: readonly Condition[]): string {
  return conditions.length === 0 ? 'request' : eitherOf(conditions.map(requestsPhrase));
}

/** «the client is in `curators`»: the same as exceptions are told. */
export const exceptionSentence = (conditions: readonly Condition[]): string => eitherOf(conditions.map(clause));

/** «POST requests for /sign-in* to tickets.example from Portugal (PT)»: the method first, then what, where and who. */
function requestsPhrase(condition: Condition): string {
  const ordered = PHRASE_ORDER.flatMap((field) => condition.filter((test) => test.field === field));
  const method = ordered.find((test) => test.field === 'method' && !hasNot(test));
  const start = method ? `${tellValues(method, PHRASES.method)} requests` : 'requests';
  const rest = ordered.filter((test) => test !== method);
  return [start, ...rest.map((test) => testPhrase(test, PHRASES[test.field]))].join(' ');
}

/** «the client is in `curators` and the path is /x»: the form for exceptions. */
function clause(condition: Condition): string {
  return condition.map((test) => testPhrase(test, CLAUSES[test.field])).join(' and ');
}

function testPhrase(test: Test, manner: Manner): string {
  const named = test.name === undefined ? '' : ` ${fieldName(test).slice(test.field.length + 1)}`;
  const equals = test.name === undefined || isPresence(test) ? '' : ' =';
  return `${manner.link}${named}${equals} ${tellValues(test, manner)}`;
}

const isPresence = (test: Test): boolean =>
  valuesOf(test).every((value) => value.type === 'present' || value.type === 'absent');

const hasNot = (test: Test): boolean => valuesOf(test).some((value) => value.type === 'not');

function tellValues(test: Test, manner: Manner): string {
  const values = valuesOf(test);
  const plain = values.filter((value) => value.type !== 'not').flatMap((value) => termsOf(value));
  const negated = values.filter((value) => value.type === 'not');
  const told = (terms: readonly Term[], last: 'or' | 'and') =>
    inWords(
      terms.map((term) => tellTerm(test, term, manner)),
      last,
    );
  return [
    ...(plain.length > 0 ? [told(plain, 'or')] : []),
    ...negated.map((value) => `${manner.but} ${told(termsOf(value), 'and')}`),
  ].join(', or ');
}

function tellTerm(test: Test, term: Term, manner: Manner): string {
  switch (term.type) {
    case 'list':
      return `${manner.list}\`${term.name}\``;
    case 'range': {
      const text = formatRange(term.range);
      return /[/-]/.test(text) ? `${manner.network}${text}` : text;
    }
    case 'country':
      return tellCountry(term.code);
    case 'unknown':
    case 'private':
      return tellCountry(term.type);
    case 'host':
      return tellDomain(term.pattern);
    case 'path':
      return term.pattern.type === 'expression' ? `paths with ${term.pattern.expression.source}` : formatTerm(term);
    case 'none':
      return test.field === 'category' ? 'no category' : 'no known application';
    case 'name':
      return `\`${term.name}\``;
    case 'anonymous':
      return 'an anonymous client';
    case 'size':
      return `${SIZE_WORDS[term.comparison]} ${formatAmount(term.bytes)}`;
    case 'absent':
    case 'present':
      return test.name === undefined ? PRESENCE[term.type] : term.type;
    default:
      return formatTerm(term);
  }
}

const PRESENCE = { present: 'anything', absent: 'nothing' };
const SIZE_WORDS = { '<': 'less than', '<=': 'at most', '>': 'more than', '>=': 'at least' };

function tellDomain({ reach, name }: DomainPattern): string {
  switch (reach) {
    case 'exact':
      return name;
    case 'under':
      return `${name} and all under it`;
    case 'only-under':
      return `what is under ${name}`;
  }
}

/** The words as a list of which the last is told by `or` or `and`; long lists are cut. */
export function inWords(words: readonly string[], last: 'or' | 'and'): string {
  const told =
    words.length > MOST_TOLD ? [...words.slice(0, MOST_TOLD - 1), `${words.length - MOST_TOLD + 1} more`] : words;
  if (told.length < 2) return told.join('');
  return `${told.slice(0, -1).join(', ')} ${last} ${told.at(-1)}`;
}

function eitherOf(phrases: readonly string[]): string {
  return phrases.length < 2 ? phrases.join('') : `either ${phrases.join(', or ')}`;
}
