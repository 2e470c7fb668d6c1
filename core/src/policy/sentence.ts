import { formatRange } from '../address/index.js';
import { countryName } from '../country/index.js';
import type { DomainPattern } from '../domain/index.js';
import { formatPathPattern } from '../url/index.js';
import { termsOf } from './references.js';
import type { Condition, Field, Policy, Rule, Stance, Term, Test, Value, Verdict } from './policy.js';

const VERBS: Record<Verdict, string> = { allow: 'allow', block: 'block' };
const MOST_TOLD = 6;

/** What the rule does, in one sentence of plain language. */
export function ruleSentence(rule: Rule): string {
  const whom = rule.when.length === 0 ? 'every request' : eitherOf(rule.when.map(requestsPhrase));
  const exception = rule.unless.length === 0 ? '' : `, unless ${eitherOf(rule.unless.map(clause))}`;
  return `${lead(rule.stance, VERBS[rule.then])} ${whom}${exception}.`;
}

/** What becomes of requests that no rule decides. */
export function defaultSentence(policy: Policy): string {
  return `${capital(VERBS[policy.default])} every request that no rule above has decided.`;
}

function lead(stance: Stance, verb: string): string {
  switch (stance) {
    case 'enforce':
      return capital(verb);
    case 'observe':
      return `Only observe, do not ${verb},`;
    case 'off':
      return `Switched off: ${verb}`;
  }
}

/** «POST requests to tickets.example at /sign-in* from PT»: the method first, then where to, then who. */
function requestsPhrase(condition: Condition): string {
  const phrases = (['method', 'host', 'path', 'client', 'peer', 'country'] as const).flatMap((field) => {
    const test = condition.find((each) => each.field === field);
    return test ? [phraseOf(test)] : [];
  });
  const methodFirst = condition.some((test) => test.field === 'method' && !hasNot(test));
  return methodFirst ? phrases.join(' ') : ['requests', ...phrases].join(' ');
}

function phraseOf(test: Test): string {
  const told = (link: string) => tellValues(test, link, '');
  switch (test.field) {
    case 'method':
      return hasNot(test) ? tellValues(test, 'with the method', '') : `${tellValues(test, '', '').trim()} requests`;
    case 'host':
      return told('to');
    case 'path':
      return told('at');
    case 'client':
      return told('from');
    case 'peer':
      return told('through the peer');
    case 'country':
      return told('from');
  }
}

const CLAUSES: Record<Field, string> = {
  client: 'the client is',
  peer: 'the peer is',
  country: 'the country is',
  host: 'the host is',
  path: 'the path is',
  method: 'the method is',
};

/** «the client is in `curators` and the path is /x»: the form for exceptions. */
function clause(condition: Condition): string {
  return condition.map((test) => tellValues(test, CLAUSES[test.field], '')).join(' and ');
}

const hasNot = (test: Test): boolean => test.values.some((value) => value.type === 'not');

function tellValues(test: Test, link: string, otherwise: string): string {
  const values: readonly Value<Term>[] = test.values;
  const plain = values.filter((value) => value.type !== 'not').flatMap((value) => termsOf(value));
  const negated = values.filter((value) => value.type === 'not');
  const parts = [
    ...(plain.length > 0 ? [anyOf(plain.map(tellTerm), 'or')] : []),
    ...negated.map((value) => `anything but ${anyOf(termsOf(value).map(tellTerm), 'and')}`),
  ];
  return `${link} ${parts.length > 0 ? parts.join(', or ') : otherwise}`;
}

function tellTerm(term: Term): string {
  switch (term.type) {
    case 'list':
      return `list \`${term.name}\``;
    case 'range':
      return formatRange(term.range);
    case 'country':
      return tellCountry(term.code);
    case 'unknown':
      return 'an unknown country';
    case 'private':
      return 'private address space';
    case 'host':
      return tellDomain(term.pattern);
    case 'path':
      return term.pattern.type === 'expression' ? `paths with ${formatPathPattern(term.pattern)}` : formatPathPattern(term.pattern);
    case 'method':
      return term.method;
  }
}

/** «Portugal (PT)», or the code alone where it has no name. */
export function tellCountry(code: string): string {
  const name = countryName(code);
  return name === undefined ? code : `${name} (${code})`;
}

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

function anyOf(words: readonly string[], last: 'or' | 'and'): string {
  const told = words.length > MOST_TOLD ? [...words.slice(0, MOST_TOLD - 1), `${words.length - MOST_TOLD + 1} more`] : words;
  if (told.length < 2) return told.join('');
  return `${told.slice(0, -1).join(', ')} ${last} ${told.at(-1)}`;
}

function eitherOf(phrases: readonly string[]): string {
  return phrases.length < 2 ? phrases.join('') : `either ${phrases.join(', or ')}`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
