import type { Issue } from '../issue/index.js';
import { suggest } from '../issue/index.js';
import { findCircles } from './circle.js';
import type { List, ListSort, Reference } from './list.js';

/** Lists by name. */
export type Lists = ReadonlyMap<string, List>;

/** The issue of a reference to a list of the sort that is not there, or of another sort; undefined where it holds. */
export function checkReference(lists: Lists, reference: Reference, sort: ListSort, file: string): Issue | undefined {
  const at = { file, ...reference.at };
  const found = lists.get(reference.name);
  if (found === undefined) {
    const known = [...lists.values()].filter((list) => list.of === sort).map((list) => list.name);
    return { code: 'unknown-list', name: reference.name, sort, suggestion: suggest(reference.name, known), ...at };
  }
  return found.of === sort ? undefined : { code: 'wrong-list', name: reference.name, sort, found: found.of, ...at };
}

/** Finds includes that lead nowhere, to another sort, or in a circle. */
export function checkIncludes(lists: Lists): Issue[] {
  const issues: Issue[] = [];
  for (const list of lists.values())
    for (const reference of list.include) {
      const issue = checkReference(lists, reference, list.of, list.file);
      if (issue) issues.push(issue);
    }
  for (const { names, closing, of } of findCircles(lists, (list) => list.include))
    issues.push({ code: 'cyclic-include', names, file: of.file, ...closing.at });
  return issues;
}

/** The list and all that it includes, each once; circles are walked once. */
export function withIncluded(lists: Lists, list: List): List[] {
  const found = new Map<string, List>([[list.name, list]]);
  for (const each of found.values())
    for (const { name } of each.include) {
      const next = lists.get(name);
      if (next && next.of === list.of && !found.has(name)) found.set(name, next);
    }
  return [...found.values()];
}
