import type { PolicyBody } from '@jade-fence/contract';
import {
  copyOf,
  placeOf,
  ruleTexts,
  withAdded,
  withKey,
  withMoved,
  withoutRule,
  withRule,
} from '@jade-fence/core/edit';
import { type Mend, mended } from '../edit/mend.js';
import type { PolicyEdit } from '../edit/use-policy-edit.js';
import type { Go } from './place.js';
import type { RuleActions } from './rule-acts.js';

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
      copy: () => put(withAdded(text, at(rule) + 1, copyOf(text, at(rule)))),
      move: (to) => {
        const ends = { top: 0, end: policy.rules.length - 1 };
        move(at(rule), typeof to === 'number' ? at(rule) + to : ends[to]);
      },
      setStance: (stance) => {
        const own = ruleTexts(text)[at(rule)] ?? '';
        put(withRule(text, at(rule), withKey(own, 'stance', stance === 'enforce' ? undefined : stance)));
      },
      remove: () => put(withoutRule(text, at(rule))),
    }),
    mend: (mend) => {
      const next = mended(text, mend);
      if (next !== undefined) put(next);
    },
  };
}
