import { placeOf, ruleTexts, withMoved } from '@jade-fence/core/edit';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** Where a rule is to go: above or below another, or to a place, from 1. */
export interface MoveGiven {
  readonly above?: string;
  readonly below?: string;
  readonly to?: number;
}

/** The text of a policy with one rule moved, and the places of the rule before and after, from 0. Throws a `Failure`. */
export function movedRule(
  text: string,
  policy: string,
  rule: string,
  given: MoveGiven,
): { readonly text: string; readonly from: number; readonly to: number } {
  const from = placeIn(text, policy, rule);
  const to = targetOf(text, policy, from, given);
  return { text: from === to ? text : withMoved(text, from, to), from, to };
}

function placeIn(text: string, policy: string, rule: string): number {
  const place = placeOf(text, rule);
  if (place < 0) throw failure(EXIT.refused, 'no-such-rule', { policy, rule });
  return place;
}

/** The place that the rule has after the move, from 0. */
function targetOf(text: string, policy: string, from: number, { above, below, to }: MoveGiven): number {
  if (to !== undefined) {
    const last = ruleTexts(text).length - 1;
    if (to - 1 > last) throw failure(EXIT.usage, 'no-such-place', { policy, rules: last + 1 });
    return to - 1;
  }
  const other = above ?? below;
  if (other === undefined) throw failure(EXIT.usage, 'where-to');
  const place = placeIn(text, policy, other);
  // Taking the rule out moves those behind it up by one.
  const gap = above === undefined ? place + 1 : place;
  return place === from ? from : gap > from ? gap - 1 : gap;
}
