import { allNeeds } from '../application/index.js';
import {
  type Condition,
  fieldName,
  formatTerm,
  type Term,
  type Test,
  type Value,
  valuesOf,
} from '../condition/index.js';
import type { Prepared } from '../engine/index.js';
import { actionPhrase, type Policy, type Rule } from '../policy/index.js';
import { conditionsOf, ruleCovers, withOnly } from './cover/rule.js';
import { type Finding, ruleFinding } from './finding.js';

/** Finds rules that no request can reach, or only in part, rules that contradict, and broad ones that are not last. */
export function reviewReach(policy: Policy, prepared: Prepared): Finding[] {
  return policy.rules.flatMap((rule, index) =>
    rule.stance === 'off' ? [] : [...broad(policy, rule, index), ...reach(policy, rule, index, prepared)],
  );
}

/** A rule without conditions takes everything, so that nothing behind it is reached. */
function broad(policy: Policy, rule: Rule, index: number): Finding[] {
  const behind = policy.rules.length - index - 1;
  const takesAll = rule.when.length === 0 && rule.unless.length === 0 && rule.limit === undefined;
  if (!takesAll || behind === 0 || rule.stance !== 'enforce' || rule.then.type === 'tag') return [];
  const count = behind === 1 ? 'the rule' : `the ${behind} rules`;
  return [
    ruleFinding('broad-not-last', 'warning', policy.name, rule.name, {
      what: `\`${rule.name}\` takes every request, and ${count} below it can do nothing`,
      reason: 'It has no conditions, and the first rule that matches decides',
      edit: `Move \`${rule.name}\` to the end`,
      mend: { type: 'move-last', rule: rule.name },
    }),
  ];
}

interface Cover {
  readonly by: number;
  /** The part of the rule that is covered: a condition or one of its values, in words; undefined: a whole condition. */
  readonly part: string | undefined;
}

function reach(policy: Policy, rule: Rule, index: number, prepared: Prepared): Finding[] {
  const conditions = conditionsOf(rule);
  const covers = conditions.map((condition) => coversOf(policy, index, condition, prepared));
  const whole = covers.every(({ all }) => all.length > 0);
  if (whole)
    return [
      unreachable(
        policy,
        rule,
        index,
        covers.flatMap(({ all }) => all.map(({ by }) => by)),
        prepared,
      ),
    ];
  const parts = covers.flatMap(({ all, some }, at) =>
    all.length > 0 && conditions.length > 1 ? all.map(({ by }) => ({ by, part: `its condition ${at + 1}` })) : some,
  );
  return parts.length === 0 ? [] : [partly(policy, rule, parts)];
}

interface Covers {
  /** The rules that cover all of the condition; empty when it is reached. */
  readonly all: readonly Cover[];
  /** The rules that cover parts of it. */
  readonly some: readonly Cover[];
}

/** A condition is covered by one rule above, or value by value by several. */
function coversOf(policy: Policy, index: number, condition: Condition, prepared: Prepared): Covers {
  const first = coveringRule(policy, index, condition, prepared);
  if (first !== undefined) return { all: [{ by: first, part: undefined }], some: [] };
  const some: Cover[] = [];
  for (const test of condition) {
    const values = valuesOf(test);
    if (values.length < 2 || values.length > MOST_VALUES) continue;
    const covered = values.map((value, place) => {
      const by = coveringRule(policy, index, withOnly(condition, test, place), prepared);
      // A need that is written down counts as named here too, when both come to the same.
      if (by !== undefined && isNeed(test, value, prepared) && doSame(policy, by, index)) return undefined;
      return by === undefined ? undefined : { by, part: `${fieldName(test)} ${valuePhrase(value as Term)}` };
    });
    const found = covered.filter((each) => each !== undefined);
    if (found.length === values.length) return { all: found, some: [] };
    some.push(...found);
  }
  return { all: [], some };
}

/** Whether a value is an application that another of the values needs. */
function isNeed(test: Test, value: Value<Term>, { workspace }: Prepared): boolean {
  if (test.field !== 'application' || value.type !== 'name') return false;
  return valuesOf(test).some(
    (other) => other.type === 'name' && allNeeds(workspace.applications, other.name).includes(value.name),
  );
}

const doSame = ({ rules }: Policy, one: number, other: number): boolean =>
  actionPhrase((rules[one] as Rule).then) === actionPhrase((rules[other] as Rule).then);

/** Tests of more values than this are not looked at value by value. */
const MOST_VALUES = 200;

const valuePhrase = (value: Term | { readonly type: 'not' }): string =>
  value.type === 'not' ? 'its `not`' : formatTerm(value as Term);

function coveringRule(policy: Policy, index: number, condition: Condition, prepared: Prepared): number | undefined {
  for (let above = 0; above < index; above++) if (ruleCovers(policy, above, index, condition, prepared)) return above;
  return undefined;
}

function unreachable(policy: Policy, rule: Rule, index: number, by: readonly number[], prepared: Prepared): Finding {
  const names = [...new Set(by)].map((each) => (policy.rules[each] as Rule).name);
  const highest = policy.rules[Math.min(...by)] as Rule;
  const shown = names.map((name) => `\`${name}\``).join(', ');
  const same = new Set(by).size === 1 && isSame(policy, by[0] as number, index, prepared);
  const differs = by.some((each) => actionPhrase((policy.rules[each] as Rule).then) !== actionPhrase(rule.then));
  if (same && differs)
    return ruleFinding('contradicting', 'warning', policy.name, rule.name, {
      what: `\`${rule.name}\` and ${shown} above it match the same requests and do different things`,
      reason: `${shown} decides first: ${actionPhrase(highest.then)}`,
      edit: `Delete the one that is not meant, or move \`${rule.name}\` above \`${highest.name}\``,
      mend: { type: 'move-above', rule: rule.name, above: highest.name },
    });
  return ruleFinding('unreachable', 'warning', policy.name, rule.name, {
    what: `\`${rule.name}\` is never reached`,
    reason: `Every request that matches it is decided by ${shown} above`,
    edit: differs
      ? `Move \`${rule.name}\` above \`${highest.name}\``
      : `Delete \`${rule.name}\`, since ${shown} ${names.length === 1 ? 'does' : 'do'} the same`,
    mend: differs ? { type: 'move-above', rule: rule.name, above: highest.name } : { type: 'delete', rule: rule.name },
  });
}

/** Whether the earlier rule matches nothing that the later one does not. */
function isSame(policy: Policy, earlier: number, later: number, prepared: Prepared): boolean {
  const swapped = { ...policy, rules: [policy.rules[later] as Rule, policy.rules[earlier] as Rule] };
  return conditionsOf(policy.rules[earlier] as Rule).every((condition) =>
    ruleCovers(swapped, 0, 1, condition, prepared),
  );
}

function partly(policy: Policy, rule: Rule, parts: readonly Cover[]): Finding {
  const by = [...new Set(parts.map((part) => (policy.rules[part.by] as Rule).name))];
  const shown = parts.slice(0, MOST_LISTED).map(({ part }) => part);
  const more = parts.length > shown.length ? ` and ${parts.length - shown.length} more` : '';
  return ruleFinding('partly-unreachable', 'note', policy.name, rule.name, {
    what: `\`${rule.name}\` is not reached by ${shown.join(', ')}${more}`,
    reason: `${by.map((name) => `\`${name}\``).join(', ')} above decides those requests`,
    edit: `Take these values out of \`${rule.name}\`, or move it above \`${by[0]}\``,
    mend: { type: 'move-above', rule: rule.name, above: by[0] as string },
  });
}

const MOST_LISTED = 5;
