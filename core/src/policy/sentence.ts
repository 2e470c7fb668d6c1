import { type Condition, fieldName, type Term, type Test, termsOf, valuesOf } from '../condition/index.js';
import { tellCountry } from '../country/index.js';
import type { DomainPattern } from '../domain/index.js';
import { formatKeyPart, type Limit } from '../limit/index.js';
import { formatRange } from '../address/index.js';
import { formatAmount } from '../condition/index.js';
import { tellDuration } from '../text/index.js';
import type { Action } from './action.js';
import { CLAUSES, type Manner, PHRASE_ORDER, PHRASES } from './manner.js';
import type { Policy, Rule, Stance } from './policy.js';
import { formatTerm } from './term-text.js';

const MOST_TOLD = 6;

/** What the rule does, in one sentence of plain language. */
export function ruleSentence(rule: Rule): string {
  const whom = rule.when.length === 0 ? 'every request' : eitherOf(rule.when.map(requestsPhrase));
  const exception = rule.unless.length === 0 ? '' : `, unless ${eitherOf(rule.unless.map(clause))}`;
  const limit = rule.limit === undefined ? '' : `, ${limitPhrase(rule.limit)}`;
  const blind = rule.ifBlind === 'match' ? ', and those for which this cannot be seen' : '';
  const { verb, behind } = actionWords(rule.then);
  return `${lead(rule.stance, verb)} ${whom}${exception}${limit}${blind}${behind}${STANCE_REMARKS[rule.stance]}${RECORD_REMARKS[rule.record]}.`;
}

/** What becomes of requests that no rule decides. */
export function defaultSentence(policy: Policy): string {
  const { verb, behind } = actionWords(policy.default);
  return `${capital(verb)} every request that no rule above has decided${behind}.`;
}

/** «block», «redirect … to https://…»: what an action does, around what it does it to. */
function actionWords(action: Action): { readonly verb: string; readonly behind: string } {
  switch (action.type) {
    case 'allow':
      return { verb: 'allow', behind: '' };
    case 'block': {
      const status = action.status === 403 ? '' : `, with status ${action.status}`;
      return { verb: 'block', behind: `${status}${noticePhrase(action)}` };
    }
    case 'redirect':
      return { verb: 'redirect', behind: `, to ${action.to}` };
    case 'challenge':
      return { verb: 'challenge', behind: noticePhrase(action) };
    case 'confirm':
      return { verb: 'ask to confirm', behind: `; a yes lasts ${tellDuration(action.lasts)}${noticePhrase(action)}` };
    case 'unlock':
      return {
        verb: `ask for the passcode \`${action.passcode}\` on`,
        behind: `; it lasts ${tellDuration(action.lasts)}${noticePhrase(action)}`,
      };
    case 'tag':
      return { verb: `tag as ${inWords(action.tags.map((tag) => `\`${tag}\``), 'and')}`, behind: '' };
  }
}

const noticePhrase = (action: Action): string =>
  'notice' in action && action.notice ? `, and show \`${action.notice.name}\`` : '';

/** The action in a word or few: `block`, `tag as curator`. */
export function actionPhrase(action: Action): string {
  return action.type === 'tag' ? `tag as ${action.tags.join(' and ')}` : action.type;
}

function lead(stance: Stance, verb: string): string {
  return stance === 'enforce' ? capital(verb) : `Would ${verb}`;
}

const STANCE_REMARKS: Record<Stance, string> = { enforce: '', observe: ' (only observed)', off: ' (switched off)' };
const RECORD_REMARKS: Record<Rule['record'], string> = { quiet: ', without a record', log: '', alert: ', with an alert' };

/** «once there are more than 20 within a minute for the same client and method, and for 10 minutes after». */
function limitPhrase({ moreThan, counts, within, per, hold }: Limit): string {
  const amount = counts === 'bytes' ? `more than ${formatAmount(moreThan)} were answered` : `there are more than ${moreThan.toLocaleString('en')}`;
  const key = per.length === 0 ? ' in all' : ` for the same ${inWords(per.map(formatKeyPart), 'and')}`;
  const after = hold === 0 ? '' : `, and for ${tellDuration(hold)} after`;
  return `once ${amount} within ${tellDuration(within)}${key}${after}`;
}

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
