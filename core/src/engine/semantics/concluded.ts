import { isWaivable, type Policy } from '../../policy/index.js';
import type { Decision } from '../decision.js';

/** The verdict and its effect: a client that has met what the rule requires is allowed by it. */
export function concluded(
  policy: Policy,
  decidedBy: number,
  metRules: readonly string[],
): Pick<Decision, 'policy' | 'verdict' | 'effect' | 'met'> {
  const rule = policy.rules[decidedBy];
  const action = rule?.then ?? policy.default;
  // A rule that tags decides nothing, so that no deciding one is of that type.
  const said = action.type === 'tag' ? 'allow' : action.type;
  const met = isWaivable(said) && metRules.includes(`${policy.name}/${rule?.name ?? 'default'}`);
  const verdict = met ? 'allow' : said;
  return { policy, verdict, effect: policy.stance === 'enforce' ? verdict : 'allow', met };
}
