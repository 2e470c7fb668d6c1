import { formatRange } from '../address/index.js';
import { countryName } from '../country/index.js';
import type { DomainPattern } from '../domain/index.js';
import { formatPathPattern } from '../url/index.js';
import type { Condition, Field, Policy, PortTerm, Rule, Stance, Term, Test, Value, Verdict } from './policy.js';
import { termsOf } from './references.js';

const VERBS: Record<Verdict, string> = { allow: 'allow', block: 'block' };
const MOST_TOLD = 6;

/** What the rule does, in one sentence of plain language. */
export function ruleSentence(rule: Rule): string {
  const whom = rule.when.length === 0 ? 'every request' : eitherOf(rule.when.map(requestsPhrase));
  const exception = rule.unless.length === 0 ? '' : `, unless ${eitherOf(rule.unless.map(clause))}`;
  const blind = rule.ifBlind === 'match' ? ', and those for which this cannot be seen' : '';
  return `${lead(rule.stance, VERBS[rule.then])} ${whom}${exception}${blind}${STANCE_REMARKS[rule.stance]}.`;
}

/** What becomes of requests that no rule decides. */
export function defaultSentence(policy: Policy): string {
  return `${capital(VERBS[policy.default])} every request that no rule above has decided.`;
}

function lead(stance: Stance, verb: string): string {
  return stance === 'enforce' ? capital(verb) : `Would ${verb}`;
}

const STANCE_REMARKS: Record<Stance, string> = { enforce: '', observe: ' (only observed)', off: ' (switched off)' };

/** «POST requests for /sign-in* to tickets.example from Portugal (PT)»: the method first, then what, where and who. */
function requestsPhrase(condition: Condition): string {
  const ordered = PHRASE_ORDER.flatMap((field) => condition.find((test) => test.field === field) ?? []);
  const method = ordered.find((test) => test.field === 'method' && !hasNot(test));
  const lead = method ? `${tellValues(method, PHRASES.method)} requests` : 'requests';
  const rest = ordered.filter((test) => test !== method);
  return [lead, ...rest.map((test) => `${PHRASES[test.field].link} ${tellValues(test, PHRASES[test.field])}`)].join(
    ' ',
  );
}

/** «the client is in `curators` and the path is /x»: the form for exceptions. */
function clause(condition: Condition): string {
  return condition.map((test) => `${CLAUSES[test.field].link} ${tellValues(test, CLAUSES[test.field])}`).join(' and ');
}

/** How a field is spoken of: the words before its values, before a list's name, and before what is left out. */
interface Manner {
  readonly link: string;
  readonly list: string;
  readonly but: string;
  readonly network: string;
}

const PHRASE_ORDER = [
  'method',
  'path',
  'host',
  'port',
  'scheme',
  'protocol',
  'client',
  'peer',
  'country',
] as const satisfies readonly Field[];

const PHRASES: Record<Field, Manner> = {
  method: { link: 'with', list: '', but: 'any method but', network: '' },
  path: { link: 'for', list: '', but: 'any path but', network: '' },
  port: { link: 'to port', list: '', but: 'any but', network: '' },
  scheme: { link: 'over', list: '', but: 'anything but', network: '' },
  protocol: { link: 'in', list: '', but: 'anything but', network: '' },
  host: { link: 'to', list: 'sites in ', but: 'anywhere but', network: '' },
  client: { link: 'from', list: 'addresses in ', but: 'any address but', network: '' },
  peer: { link: 'through', list: 'peers in ', but: 'any peer but', network: '' },
  country: { link: 'from', list: 'countries in ', but: 'anywhere but', network: '' },
};

const CLAUSES: Record<Field, Manner> = {
  method: { link: 'the method is', list: '', but: 'any but', network: '' },
  path: { link: 'the path is', list: '', but: 'any but', network: '' },
  port: { link: 'the port is', list: '', but: 'any but', network: '' },
  scheme: { link: 'the scheme is', list: '', but: 'any but', network: '' },
  protocol: { link: 'the protocol is', list: '', but: 'any but', network: '' },
  host: { link: 'the host is', list: 'in ', but: 'any but', network: '' },
  client: { link: 'the client is', list: 'in ', but: 'any but', network: 'in ' },
  peer: { link: 'the peer is', list: 'in ', but: 'any but', network: 'in ' },
  country: { link: 'the country is', list: 'in ', but: 'any but', network: '' },
};

const hasNot = (test: Test): boolean => test.values.some((value) => value.type === 'not');

function tellValues(test: Test, manner: Manner): string {
  const values: readonly Value<Term>[] = test.values;
  const plain = values.filter((value) => value.type !== 'not').flatMap((value) => termsOf(value));
  const negated = values.filter((value) => value.type === 'not');
  return [
    ...(plain.length > 0
      ? [
          inWords(
            plain.map((term) => tellTerm(term, manner)),
            'or',
          ),
        ]
      : []),
    ...negated.map(
      (value) =>
        `${manner.but} ${inWords(
          termsOf(value).map((term) => tellTerm(term, manner)),
          'and',
        )}`,
    ),
  ].join(', or ');
}

function tellTerm(term: Term, manner: Manner): string {
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
      return 'an unknown country';
    case 'private':
      return 'private address space';
    case 'host':
      return tellDomain(term.pattern);
    case 'path':
      return term.pattern.type === 'expression' ? `paths with ${term.pattern.source}` : formatPathPattern(term.pattern);
    case 'method':
      return term.method;
    case 'token':
      return term.token;
    case 'port':
      return formatPorts(term);
  }
}

/** `443`, or `8000-8099`. */
export const formatPorts = ({ first, last }: PortTerm): string => (first === last ? String(first) : `${first}-${last}`);

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

function inWords(words: readonly string[], last: 'or' | 'and'): string {
  const told =
    words.length > MOST_TOLD ? [...words.slice(0, MOST_TOLD - 1), `${words.length - MOST_TOLD + 1} more`] : words;
  if (told.length < 2) return told.join('');
  return `${told.slice(0, -1).join(', ')} ${last} ${told.at(-1)}`;
}

function eitherOf(phrases: readonly string[]): string {
  return phrases.length < 2 ? phrases.join('') : `either ${phrases.join(', or ')}`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
