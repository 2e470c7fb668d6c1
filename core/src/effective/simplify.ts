import { type Condition, type Term, type Test, termsOf, valuesOf } from '../condition/index.js';
import { type Judged, type Prepared, type Subject, testField } from '../engine/index.js';
import type { Policy, Rule } from '../policy/index.js';

/** Why a rule cannot apply to a client. */
export type WhyNot =
  | 'its conditions cannot hold'
  | 'an exception holds'
  | 'a rule above decides everything'
  | 'it is off';

export interface Simplified {
  /** The policy with the rules that can apply, without the tests that hold for all requests of this client. */
  readonly policy: Policy;
  readonly leftOut: readonly { readonly rule: string; readonly why: WhyNot }[];
  /** Whether a rule decides all that comes to it, so that the default is never asked. */
  readonly decided: boolean;
}

/**
 * A policy as it is for a client of whom is known what the subject shows; what it does not show may be anything. For
 * every request of that client it decides as the whole policy does.
 */
export function simplifiedFor(policy: Policy, subject: Subject, prepared: Prepared): Simplified {
  const rules: Rule[] = [];
  const leftOut: { rule: string; why: WhyNot }[] = [];
  // Tags that a rule above puts on every request of this client, and those that one may put.
  const tags = new Set<string>();
  const perhaps = new Set<string>();
  let decided = false;
  for (const rule of policy.rules) {
    const left = decided ? 'a rule above decides everything' : simplified(rule, { subject, tags, prepared }, perhaps);
    if (typeof left === 'string') {
      leftOut.push({ rule: rule.name, why: left });
      continue;
    }
    rules.push(left);
    if (left.stance !== 'enforce') continue;
    if (left.then.type === 'tag') for (const tag of left.then.tags) (isCertain(left) ? tags : perhaps).add(tag);
    else decided = isCertain(left);
  }
  return { policy: { ...policy, rules }, leftOut, decided };
}

/** Whether a simplified rule applies to all requests of the client. */
export const isCertain = ({ when, unless, limit }: Rule): boolean =>
  when.length === 0 && unless.length === 0 && limit === undefined;

function simplified(rule: Rule, judged: Judged, perhaps: ReadonlySet<string>): Rule | WhyNot {
  if (rule.stance === 'off') return 'it is off';
  const when = rule.when.length === 0 ? 'match' : open(rule.when, judged, perhaps);
  if (when === 'no match') return 'its conditions cannot hold';
  const unless = open(rule.unless, judged, perhaps);
  if (unless === 'match') return 'an exception holds';
  return { ...rule, when: when === 'match' ? [] : when, unless: unless === 'no match' ? [] : unless };
}

/** The conditions that may hold, without the tests that do; or that one of them does, or that none can. */
function open(
  conditions: readonly Condition[],
  judged: Judged,
  perhaps: ReadonlySet<string>,
): 'match' | 'no match' | Condition[] {
  const left = conditions.flatMap((condition): Condition[] => {
    const tests = condition.map((test) => ({ test, holds: holdsFor(test, judged, perhaps) }));
    if (tests.some(({ holds }) => holds === 'no match')) return [];
    return [tests.filter(({ holds }) => holds === 'unseen').map(({ test }) => test)];
  });
  if (left.some((condition) => condition.length === 0)) return 'match';
  return left.length === 0 ? 'no match' : left;
}

function holdsFor(test: Test, judged: Judged, perhaps: ReadonlySet<string>): 'match' | 'no match' | 'unseen' {
  const named = test.field === 'tag' ? valuesOf(test).flatMap((value) => termsOf<Term>(value)) : [];
  return named.some((term) => 'name' in term && perhaps.has(term.name)) ? 'unseen' : testField(test, judged).holds;
}
