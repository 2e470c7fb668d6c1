import { type AddressTerm, type ListUse, listsNamed, type NameUse, namesUsed } from '../condition/index.js';
import type { Reference } from '../list/index.js';
import { noticeOf } from './action.js';
import type { ClientSource, Policy } from './policy.js';

/** Every naming of a list in the policy. */
export function listUses(policy: Policy): ListUse[] {
  const covered = [
    { field: 'host' as const, name: undefined, values: policy.covers.hosts },
    { field: 'client' as const, name: undefined, values: [...policy.covers.clients, ...trustOf(policy.client)] },
  ];
  return listsNamed([covered, ...policy.rules.flatMap((rule) => [...rule.when, ...rule.unless])]);
}

/** Every naming of a category, application, schedule or tag in the policy's rules. */
export function nameUses(policy: Policy): NameUse[] {
  return namesUsed(policy.rules.flatMap((rule) => [...rule.when, ...rule.unless]));
}

/** Every naming of a notice. */
export function noticeUses(policy: Policy): Reference[] {
  return [policy.default, ...policy.rules.map((rule) => rule.then)].flatMap((action) => noticeOf(action) ?? []);
}

/** The addresses from which a policy believes a forwarding header. */
export const trustOf = (source: ClientSource): readonly AddressTerm[] => (source.from === 'peer' ? [] : source.trust);
