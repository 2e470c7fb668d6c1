import type { Issue } from '../issue/index.js';
import { checkReference, type ListSort, type Lists } from '../list/index.js';
import type { ClientSource, Field, ListTerm, Policy, Term, Value } from './policy.js';

const SORTS: Record<Field, ListSort | undefined> = {
  client: 'addresses',
  peer: 'addresses',
  country: 'countries',
  host: 'domains',
  path: undefined,
  method: undefined,
  scheme: undefined,
  protocol: undefined,
  port: undefined,
};

/** A list that a policy names, and the sort that belongs at that place. */
export interface ListUse {
  readonly term: ListTerm;
  readonly sort: ListSort;
}

/** Every naming of a list in the policy. */
export function listUses(policy: Policy): ListUse[] {
  const trust = trustOf(policy.client);
  return [
    ...uses(policy.covers.hosts, 'domains'),
    ...uses(policy.covers.clients, 'addresses'),
    ...uses(trust, 'addresses'),
    ...policy.rules
      .flatMap((rule) => [...rule.when, ...rule.unless])
      .flat()
      .flatMap((test) =>
        uses(
          test.values.flatMap((value: Value<Term>) => termsOf(value)),
          SORTS[test.field],
        ),
      ),
  ];
}

export const trustOf = (source: ClientSource) => (source.from === 'peer' ? [] : source.trust);

/** The terms of a value: itself, or those that its `not` holds. */
export function termsOf<T extends Term>(value: Value<T>): readonly T[] {
  return value.type === 'not' ? (value as { readonly values: readonly T[] }).values : [value as T];
}

function uses(terms: readonly Term[], sort: ListSort | undefined): ListUse[] {
  return terms.flatMap((term) => (term.type === 'list' && sort ? [{ term, sort }] : []));
}

/** Finds names of lists that are not there or of another sort. */
export function checkPolicyReferences(policy: Policy, lists: Lists): Issue[] {
  return listUses(policy).flatMap(({ term, sort }) => checkReference(lists, term, sort, policy.file) ?? []);
}
