import type { PolicyBody } from '@jade-fence/contract';
import { placeOf, withMoved, withoutRule } from '@jade-fence/core/edit';
import { type Mend, mended } from '../edit/mend.js';
import type { PolicyEdit } from '../edit/use-policy-edit.js';
import type { Go } from './place.js';
import type { RuleActions } from './rule-acts.js';
import { withCopies, withStance } from './several.js';

/** The edits of the rules of a policy that their table offers. */
export interface RuleEdits {
  readonly actsOf: (rule: string) => RuleActions;
  readonly move: (from: number, to: number) => void;
  readonly mend: (mend: Mend) => void;
}

export function useRuleEdits(policy: PolicyBody, edit: PolicyEdit, go: Go): RuleEdits {
  const { text } = policy;
  const put = (next: string) => edit.put.mutate({ text: next });
  const at = (rule: string) => placeOf(text, rule);
  const move = (from: number, to: number) => {
    if (from >= 0 && to >= 0 && to < policy.rules.length && from !== to) put(withMoved(text, from, to));
  };
  return {
    move,
    actsOf: (rule) => ({
      edit: () => go({ edit: rule }),
      copy: () => put(withCopies(text, text, [rule], at(rule) + 1)),
      move: (to) => {
        const ends = { top: 0, end: policy.rules.length - 1 };
        move(at(rule), typeof to === 'number' ? at(rule) + to : ends[to]);
      },
      setStance: (stance) => put(withStance(text, [rule], stance)),
      remove: () => put(withoutRule(text, at(rule))),
    }),
    mend: (mend) => {
      const next = mended(text, mend);
      if (next !== undefined) put(next);
    },
  };
}
