import { ruleTexts } from '@jade-fence/core/edit';
import { type Alternative, type FieldValue, type RuleValue, readRule } from './rule-value.js';

/** Where a new rule begins, and the rule that it is put above for a reason. */
export interface PlaceFor {
  readonly place: number;
  /** The first rule that would overtake it; undefined where none would, so that it goes last. */
  readonly above: string | undefined;
}

/**
 * Where a new rule goes until somebody says otherwise: above the first rule that acts and would overtake it. For a rule that
 * refuses that is one which lets through what it is to stop; for any, one that decides every request. Rules that are about
 * other requests, as far as their values show, are passed over.
 */
export function placeFor(policy: string, rule: RuleValue): PlaceFor {
  const rules = ruleTexts(policy).map(readRule);
  const place = rules.findIndex((other) => !('faults' in other) && overtakes(other, rule));
  const above = rules[place];
  return place < 0
    ? { place: rules.length, above: undefined }
    : { place, above: above && 'rule' in above ? above.rule : undefined };
}

function overtakes(other: RuleValue, rule: RuleValue): boolean {
  if (other.stance !== 'enforce' || verdictOf(other) === 'tag') return false;
  if (other.when.length + other.unless.length === 0 && other.limit === undefined) return true;
  const isLetThrough = verdictOf(other) === 'allow' && !['allow', 'tag'].includes(verdictOf(rule));
  return isLetThrough && !areApart(other.when, rule.when);
}

const verdictOf = ({ then }: RuleValue): string =>
  typeof then === 'string' ? then : (Object.keys((then ?? {}) as object)[0] ?? 'block');

/** Whether no request can match both: each way to match one has a field with other values than each way to match the other. */
const areApart = (some: readonly Alternative[], others: readonly Alternative[]): boolean =>
  some.length > 0 &&
  others.length > 0 &&
  some.every((one) =>
    others.every((other) => Object.keys(one).some((field) => haveNoneInCommon(field, one[field], other[field]))),
  );

/** Values that mean themselves alone: no list, pattern or range. */
const PLAIN: Readonly<Record<string, RegExp>> = {
  host: /^[a-z0-9][a-z0-9-]*(?:\.[a-z0-9-]+)+$/,
  method: /^[A-Z]+$/,
  country: /^[A-Z]{2}$/,
  scheme: /^[a-z]+$/,
  port: /^[1-9]\d*$/,
};

function haveNoneInCommon(
  field: string,
  some: readonly FieldValue[] | undefined,
  others: readonly FieldValue[] | undefined,
): boolean {
  const plain = PLAIN[field];
  if (plain === undefined || some === undefined || others === undefined) return false;
  const isPlain = (value: FieldValue): value is string => typeof value === 'string' && plain.test(value);
  return some.every(isPlain) && others.every(isPlain) && !some.some((value) => others.includes(value));
}
