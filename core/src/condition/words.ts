import type { DomainPattern } from '../domain/index.js';
import { formatUrlPattern } from '../url/index.js';
import type { Comparison, SizeTerm, Term } from './condition.js';
import { formatAmount } from './size.js';
import { formatTerm } from './term-text.js';

const MOST_LISTED = 6;

/** The words as a list, the last of them behind `or` or `and`; what is behind the sixth is counted. */
export function inWords(words: readonly string[], last: 'or' | 'and'): string {
  const shown =
    words.length > MOST_LISTED ? [...words.slice(0, MOST_LISTED - 1), `${words.length - MOST_LISTED + 1} more`] : words;
  if (shown.length < 2) return shown.join('');
  return `${shown.slice(0, -1).join(', ')} ${last} ${shown.at(-1)}`;
}

/** Whether a path, URL or text is matched as a pattern, so that a sentence does not show it as the value itself. */
export function isPattern(term: Term): boolean {
  switch (term.type) {
    case 'path':
    case 'text':
      return term.pattern.type !== 'exact';
    case 'url':
      return /^~|\*/.test(formatUrlPattern(term.pattern));
    default:
      return false;
  }
}

/** «example with its subdomains». */
export function domainWords({ reach, name }: DomainPattern): string {
  switch (reach) {
    case 'exact':
      return name;
    case 'under':
      return `${name} with its subdomains`;
    case 'only-under':
      return `subdomains of ${name}`;
  }
}

const SIZES: Readonly<Record<Comparison, string>> = {
  '<': 'less than',
  '<=': 'at most',
  '>': 'more than',
  '>=': 'at least',
};
const INVERTED: Readonly<Record<Comparison, Comparison>> = { '<': '>=', '<=': '>', '>': '<=', '>=': '<' };

/** «more than 1MiB»; negated, «at most 1MiB». */
export const sizeWords = ({ comparison, bytes }: SizeTerm, negated: boolean): string =>
  `${SIZES[negated ? INVERTED[comparison] : comparison]} ${formatAmount(bytes)}`;

/** «port 443», «ports 8000-8099». */
export const portWords = (term: Term): string => {
  const text = formatTerm(term);
  return `${text.includes('-') ? 'ports' : 'port'} ${text}`;
};
