import type { TextTerm } from '../../../condition/index.js';
import { type TextPattern, textMatches } from '../../../pattern/index.js';
import type { PreparedRules } from '../../prepared.js';
import { type Matcher, numbered, post } from './matcher.js';

/** The values of a text field; none: it is absent. */
export function matchTexts(terms: readonly TextTerm[], { lists }: PreparedRules): Matcher<readonly string[]> {
  const exact = new Map<string, number[]>();
  const patterns: { readonly pattern: TextPattern; readonly number: number }[] = [];
  const take = (pattern: TextPattern, number: number) => {
    if (pattern.type === 'exact') post(exact, pattern.text, number);
    else patterns.push({ pattern, number });
  };
  for (const { term, number } of numbered(terms, 'text')) take(term.pattern, number);
  for (const { term, number } of numbered(terms, 'list'))
    for (const pattern of lists.agents.get(term.name) ?? []) take(pattern, number);
  const present = numbered(terms, 'present').map(({ number }) => number);
  const absent = numbered(terms, 'absent').map(({ number }) => number);
  return (texts) => {
    if (texts.length === 0) return absent;
    const found = present.length === 0 ? [] : [...present];
    for (const text of texts) {
      const known = exact.get(text);
      if (known) found.push(...known);
      for (const { pattern, number } of patterns) if (textMatches(pattern, text)) found.push(number);
    }
    return found;
  };
}
