import { placeOf, ruleTexts, withAdded, withKey } from '../edit/index.js';

/** A rule that is to be added to the text of a policy. */
export interface NewRule {
  readonly rule: string;
  readonly note?: string | undefined;
  readonly when: Readonly<Record<string, readonly string[]>>;
  readonly then: string;
}

/**
 * Adds a rule to the text of a policy, above the one that is named, or as the last; all else, comments too, stays.
 * Undefined where the policy has no rule of the name.
 */
export function withNewRule(text: string, rule: NewRule, above: string | undefined): string | undefined {
  const place = above === undefined ? ruleTexts(text).length : placeOf(text, above);
  if (place < 0) return undefined;
  const keys = Object.entries(rule).filter(([, value]) => value !== undefined);
  return withAdded(
    text,
    place,
    keys.reduce((written, [key, value]) => withKey(written, key, value), ''),
  );
}
