import { namesUsed } from '../condition/index.js';
import { noticeOf, type Policy } from '../policy/index.js';
import type { Workspace } from './workspace.js';

/** A place that names an object: a rule or default of a policy, an application, a check. */
export interface ObjectUser {
  readonly kind: 'policy' | 'application' | 'check';
  readonly name: string;
  /** The rule of a policy, or `default`; null for what is no policy. */
  readonly rule: string | null;
}

/** One object, and a place that names it. A place that names an object several times comes up as often. */
interface Use {
  readonly kind: string;
  readonly name: string;
  readonly user: ObjectUser;
}

/**
 * Everything that names an object directly: a category, an application, a schedule, a notice or a probe. Lists may be
 * used through others, which `usersOfList` finds.
 */
export function usersOfObject(workspace: Workspace, kind: string, name: string): ObjectUser[] {
  const found = new Map<string, ObjectUser>();
  for (const use of usesIn(workspace)) if (use.kind === kind && use.name === name) found.set(keyOf(use.user), use.user);
  return [...found.values()];
}

/** How many places name each object directly, by `kind/name`; those that nothing names are left out. */
export function userCounts(workspace: Workspace): ReadonlyMap<string, number> {
  const users = new Map<string, Set<string>>();
  for (const { kind, name, user } of usesIn(workspace)) {
    const key = `${kind}/${name}`;
    const known = users.get(key);
    if (known) known.add(keyOf(user));
    else users.set(key, new Set([keyOf(user)]));
  }
  return new Map([...users].map(([key, known]) => [key, known.size]));
}

const keyOf = ({ kind, name, rule }: ObjectUser): string => `${kind}/${name}/${rule ?? ''}`;

function* usesIn({ policies, applications, checks }: Workspace): Generator<Use> {
  for (const policy of policies.values()) yield* usesInPolicy(policy);
  for (const { name: own, needs, category, when } of applications.values()) {
    const user: ObjectUser = { kind: 'application', name: own, rule: null };
    for (const { name } of needs) yield { kind: 'application', name, user };
    if (category) yield { kind: 'category', name: category.name, user };
    for (const { kind, term } of namesUsed(when)) yield { kind, name: term.name, user };
  }
  for (const { name: own, cells } of checks.values())
    for (const { probe } of cells)
      yield { kind: 'probe', name: probe.name, user: { kind: 'check', name: own, rule: null } };
}

function* usesInPolicy(policy: Policy): Generator<Use> {
  const userOf = (rule: string): ObjectUser => ({ kind: 'policy', name: policy.name, rule });
  for (const { name: rule, when, unless, then } of policy.rules) {
    const user = userOf(rule);
    for (const { kind, term } of namesUsed([...when, ...unless])) yield { kind, name: term.name, user };
    const notice = noticeOf(then);
    if (notice) yield { kind: 'notice', name: notice.name, user };
  }
  const notice = noticeOf(policy.default);
  if (notice) yield { kind: 'notice', name: notice.name, user: userOf('default') };
}
