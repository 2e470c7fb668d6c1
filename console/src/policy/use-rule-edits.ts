import type { PolicyBody } from '@jade-fence/contract';
import { editsOfText, type TextEdits } from '../edit/edits-of-text.js';
import type { Mend } from '../edit/mend.js';
import type { ObjectEdit } from '../edit/use-object-edit.js';
import type { Go } from './place.js';
import type { RuleActions } from './rule-acts.js';

/** The edits of the rules of a policy that their table offers. */
export interface RuleEdits {
  readonly actsOf: (rule: string) => RuleActions;
  readonly move: (from: number, to: number) => void;
  readonly mend: (mend: Mend) => void;
}

export function useRuleEdits(policy: PolicyBody, edit: ObjectEdit, go: Go): RuleEdits {
  const { text, rules } = policy;
  const put = (next: (edits: TextEdits) => string | undefined) =>
    edit.put.mutate({ text: async () => next(await editsOfText()) });
  const at = (rule: string) => rules.findIndex((each) => each.rule === rule);
  const move = (from: number, to: number) => {
    if (from >= 0 && to >= 0 && to < rules.length && from !== to) put((edits) => edits.withMoved(text, from, to));
  };
  return {
    move,
    actsOf: (rule) => ({
      edit: () => go({ edit: rule }),
      copy: () => put((edits) => edits.withCopies(text, text, [rule], at(rule) + 1)),
      move: (to) => {
        const ends = { top: 0, end: rules.length - 1 };
        move(at(rule), typeof to === 'number' ? at(rule) + to : ends[to]);
      },
      setStance: (stance) => put((edits) => edits.withStance(text, [rule], stance)),
      remove: () => put((edits) => edits.withoutRule(text, edits.placeOf(text, rule))),
    }),
    mend: (mend) => put((edits) => edits.mended(text, mend)),
  };
}
