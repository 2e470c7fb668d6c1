import { copyFor, placeOf, ruleTexts, withAdded, withKey, withoutRule, withRule } from '@jade-fence/core/edit';

/*
 * Edits of several rules of a policy at once, each from text to text. Rules that are no more there are passed over.
 */

/** The rules that are named, with another stance. */
export const withStance = (policy: string, rules: readonly string[], stance: string): string =>
  rules.reduce((text, rule) => {
    const at = placeOf(text, rule);
    const own = ruleTexts(text)[at];
    if (own === undefined) return text;
    return withRule(text, at, withKey(own, 'stance', stance === 'enforce' ? undefined : stance));
  }, policy);

/** Without the rules that are named. */
export const withoutRules = (policy: string, rules: readonly string[]): string =>
  rules.reduce((text, rule) => {
    const at = placeOf(text, rule);
    return at < 0 ? text : withoutRule(text, at);
  }, policy);

/** Another policy, or the same, with copies of the rules that are named at its place `at`, in their order. */
export const withCopies = (to: string, from: string, rules: readonly string[], at: number): string => {
  const texts = ruleTexts(from);
  const chosen = texts.filter((_, place) => rules.some((rule) => placeOf(from, rule) === place));
  return chosen.reduce((text, rule, index) => withAdded(text, at + index, copyFor(text, rule)), to);
};
