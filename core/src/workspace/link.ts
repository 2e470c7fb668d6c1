import { checkNeeds } from '../application/index.js';
import { categoryConditions } from '../category/index.js';
import { checkCheck } from '../check/index.js';
import { type ListUse, listsNamed, type NameUse, namesUsed } from '../condition/index.js';
import { checkCorrections } from '../correction/index.js';
import { type Issue, suggest } from '../issue/index.js';
import { checkIncludes, checkReference, type Reference } from '../list/index.js';
import { checkCovers, listUses, nameUses, noticeUses } from '../policy/index.js';
import type { Workspace } from './workspace.js';

/** Resolves all names between the objects of a workspace, and finds conflicts between objects. */
export function checkLinks(workspace: Workspace): Issue[] {
  const { policies, lists, categories, applications, corrections, probes, checks } = workspace;
  return [
    ...checkIncludes(lists),
    ...[...policies.values()].flatMap((policy) => [
      ...checkLists(workspace, listUses(policy), policy.file),
      ...checkNames(workspace, nameUses(policy), policy.file),
      ...noticeUses(policy).flatMap((reference) => unknown('notice', reference, workspace.notices, policy.file)),
    ]),
    ...[...categories.values()].flatMap((category) =>
      checkLists(workspace, listsNamed(categoryConditions(category)), category.file),
    ),
    ...[...applications.values()].flatMap((application) => [
      ...checkLists(workspace, listsNamed(application.when), application.file),
      ...checkNames(workspace, namesUsed(application.when), application.file),
      ...(application.category ? unknown('category', application.category, categories, application.file) : []),
    ]),
    ...checkNeeds(applications),
    ...checkCorrections(corrections.values()),
    ...[...checks.values()].flatMap((check) => checkCheck(check, policies, probes)),
    ...checkCovers([...policies.values()], lists),
  ];
}

function checkLists({ lists }: Workspace, uses: readonly ListUse[], file: string): Issue[] {
  return uses.flatMap(({ term, sort }) => checkReference(lists, term, sort, file) ?? []);
}

function checkNames(workspace: Workspace, uses: readonly NameUse[], file: string): Issue[] {
  return uses.flatMap(({ term, kind }) => {
    const known = namesOf(kind, workspace);
    return known ? unknown(kind, term, known, file) : [];
  });
}

/** Known names by kind; undefined for tags: rules define them by setting them, and the review finds the others. */
function namesOf(kind: NameUse['kind'], workspace: Workspace): ReadonlyMap<string, unknown> | undefined {
  switch (kind) {
    case 'category':
      return workspace.categories;
    case 'application':
      return workspace.applications;
    case 'schedule':
      return workspace.schedules;
    case 'tag':
      return undefined;
  }
}

function unknown(kind: string, { name, at }: Reference, known: ReadonlyMap<string, unknown>, file: string): Issue[] {
  if (known.has(name)) return [];
  return [{ code: 'unknown-name', kind, name, suggestion: suggest(name, [...known.keys()]), file, ...at }];
}
