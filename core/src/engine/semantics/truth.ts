import type { Unseen } from '../decision.js';

/** The value of a test in Kleene's three-valued logic; `unseen` names the fields that could not be seen. */
export type Truth =
  | { readonly holds: 'match' | 'no match' }
  | { readonly holds: 'unseen'; readonly fields: readonly Unseen[] };

export const MATCH: Truth = { holds: 'match' };
export const NO_MATCH: Truth = { holds: 'no match' };

/** The answer of a test whose fields the request does not show. */
export const unseen = (...fields: readonly Unseen[]): Truth => ({ holds: 'unseen', fields });

/** `match` for true, `no match` for false. */
export const truthOf = (value: boolean): Truth => (value ? MATCH : NO_MATCH);

/** All of them: false where any is false, else unseen where any is unseen. */
export function allOf(truths: readonly Truth[]): Truth {
  if (truths.some((truth) => truth.holds === 'no match')) return NO_MATCH;
  return unseenAmong(truths) ?? MATCH;
}

/** Any of them: true where any is true, else unseen where any is unseen. */
export function anyOf(truths: readonly Truth[]): Truth {
  if (truths.some((truth) => truth.holds === 'match')) return MATCH;
  return unseenAmong(truths) ?? NO_MATCH;
}

/** The contrary; what is unseen stays so. */
export function not(truth: Truth): Truth {
  switch (truth.holds) {
    case 'match':
      return NO_MATCH;
    case 'no match':
      return MATCH;
    case 'unseen':
      return truth;
  }
}

function unseenAmong(truths: readonly Truth[]): Truth | undefined {
  if (!truths.some((truth) => truth.holds === 'unseen')) return undefined;
  const fields = truths.flatMap((truth) => (truth.holds === 'unseen' ? truth.fields : []));
  return { holds: 'unseen', fields: [...new Set(fields)] };
}
