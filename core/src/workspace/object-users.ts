import { namesUsed } from '../condition/index.js';
import { noticeOf, type Policy, type Rule } from '../policy/index.js';
import type { Workspace } from './workspace.js';

/** A place that names an object: a rule or default of a policy, an application, a check. */
export interface ObjectUser {
  readonly kind: 'policy' | 'application' | 'check';
  readonly name: string;
  /** The rule of a policy, or `default`; null for what is no policy. */
  readonly rule: string | null;
}

/**
 * Everything that names an object directly: a category, an application, a schedule, a notice or a probe. Lists may be
 * used through others, which `usersOfList` finds.
 */
export function usersOfObject(workspace: Workspace, kind: string, name: string): ObjectUser[] {
  const { policies, applications, checks } = workspace;
  return [
    ...[...policies.values()].flatMap((policy) => usersIn(policy, kind, name)),
    ...[...applications.values()]
      .filter(
        ({ needs, category, when }) =>
          (kind === 'application' && needs.some((each) => each.name === name)) ||
          (kind === 'category' && category?.name === name) ||
          namesUsed(when).some((use) => use.kind === kind && use.term.name === name),
      )
      .map((each): ObjectUser => ({ kind: 'application', name: each.name, rule: null })),
    ...[...checks.values()]
      .filter(({ cells }) => kind === 'probe' && cells.some(({ probe }) => probe.name === name))
      .map((each): ObjectUser => ({ kind: 'check', name: each.name, rule: null })),
  ];
}

function usersIn(policy: Policy, kind: string, name: string): ObjectUser[] {
  const asks = ({ when, unless }: Rule) =>
    namesUsed([...when, ...unless]).some((use) => use.kind === kind && use.term.name === name);
  const shows = (action: Policy['default'] | Rule['then']) => kind === 'notice' && noticeOf(action)?.name === name;
  const rules = policy.rules.filter((rule) => asks(rule) || shows(rule.then)).map((rule) => rule.name);
  return [...rules, ...(shows(policy.default) ? ['default'] : [])].map((rule) => ({
    kind: 'policy',
    name: policy.name,
    rule,
  }));
}
