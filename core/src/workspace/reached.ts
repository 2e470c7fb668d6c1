import { categoryConditions } from '../category/index.js';
import { listsNamed, namesUsed } from '../condition/index.js';
import { listUses, nameUses, type Policy } from '../policy/index.js';
import type { Workspace } from './workspace.js';

/** The names of the lists that a policy names, and that the categories and applications do which it names. */
export function listsReached(policy: Policy, { categories, applications }: Workspace): string[] {
  const names = nameUses(policy);
  const inApplications = names.flatMap(({ kind, term }) =>
    kind === 'application' ? (applications.get(term.name)?.when ?? []) : [],
  );
  const named = [...names, ...namesUsed(inApplications)];
  const inCategories = named.flatMap(({ kind, term }) => {
    const category = kind === 'category' ? categories.get(term.name) : undefined;
    return category ? categoryConditions(category) : [];
  });
  const uses = [...listUses(policy), ...listsNamed(inApplications), ...listsNamed(inCategories)];
  return [...new Set(uses.map(({ term }) => term.name))];
}
