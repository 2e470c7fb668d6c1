import { categoryConditions } from '../category/index.js';
import { type Condition, listsNamed, namesUsed } from '../condition/index.js';
import { withIncluded } from '../list/index.js';
import { type Policy, trustOf } from '../policy/index.js';
import type { Workspace } from './workspace.js';

/** A place that uses a list, by itself or through something else. */
export interface ListUser {
  readonly policy: string;
  /** The rule; null where the policy covers by it, or trusts it. */
  readonly rule: string | null;
  /** The way from there to the list, such as `list all-offices` or `category wagering`; empty when named directly. */
  readonly through: readonly string[];
}

/** Every rule that uses a list, and every policy that covers by it or trusts it. */
export function usersOfList(workspace: Workspace, name: string): ListUser[] {
  const { policies, lists } = workspace;
  const list = lists.get(name);
  if (!list) return [];
  const reaching = new Set(
    [...lists.values()].filter((each) => withIncluded(lists, each).includes(list)).map((each) => each.name),
  );
  return [...policies.values()].flatMap((policy) =>
    [
      { rule: null, conditions: [coverOf(policy)] },
      ...policy.rules.map((rule) => ({ rule: rule.name, conditions: [...rule.when, ...rule.unless] })),
    ].flatMap(({ rule, conditions }): ListUser[] => {
      const ways = waysTo(conditions, name, reaching, workspace);
      return ways.length === 0 ? [] : [{ policy: policy.name, rule, through: ways.includes('') ? [] : ways }];
    }),
  );
}

/** The lists that a policy covers and trusts, as a condition that names the same ones. */
const coverOf = (policy: Policy): Condition => [
  { field: 'host', name: undefined, values: policy.covers.hosts },
  { field: 'client', name: undefined, values: [...policy.covers.clients, ...trustOf(policy.client)] },
];

/** How conditions lead to the list; an empty text where they name it. */
function waysTo(
  conditions: readonly Condition[],
  name: string,
  reaching: ReadonlySet<string>,
  { categories, applications }: Workspace,
): string[] {
  const byLists = (some: readonly Condition[]) =>
    listsNamed(some)
      .map(({ term }) => term.name)
      .filter((each) => reaching.has(each));
  const direct = byLists(conditions).map((each) => (each === name ? '' : `list ${each}`));
  const named = namesUsed(conditions).flatMap(({ kind, term }) => {
    const category = kind === 'category' ? categories.get(term.name) : undefined;
    const application = kind === 'application' ? applications.get(term.name) : undefined;
    const inside = category ? categoryConditions(category) : (application?.when ?? []);
    return byLists(inside).length > 0 ? [`${kind} ${term.name}`] : [];
  });
  return [...new Set([...direct, ...named])];
}
