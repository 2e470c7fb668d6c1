import { type AddressRange, formatPrefix, type Prefix, prefixesOf } from '../address/index.js';
import type { AddressTerm, HostTerm } from '../condition/index.js';
import { type DomainPattern, formatDomainPattern } from '../domain/index.js';
import type { Issue, Site } from '../issue/index.js';
import { isAlive, type Lists, withIncluded } from '../list/index.js';
import type { Policy } from './policy.js';

/** Before any entry could have expired. */
const ALWAYS = Number.NEGATIVE_INFINITY;

/** A pattern of `covers`, with the place that it was written at: for a list's entry, where the list is named. */
export interface Covered<T> {
  readonly pattern: T;
  readonly at: Site;
}

/**
 * The host patterns that the policy covers, those of lists included. Entries that have expired at the instant `at`, in
 * milliseconds since 1970, are left out; without it, none are.
 */
export function coveredHosts(policy: Policy, lists: Lists, at = ALWAYS): Covered<DomainPattern>[] {
  return policy.covers.hosts.flatMap((term: HostTerm) => {
    if (term.type === 'host') return [{ pattern: term.pattern, at: term.at }];
    const list = lists.get(term.name);
    if (list?.of !== 'domains') return [];
    const entries = withIncluded(lists, list).flatMap((each) => (each.of === 'domains' ? each.entries : []));
    return entries.filter((entry) => isAlive(entry, at)).map((entry) => ({ pattern: entry.value, at: term.at }));
  });
}

/** The client networks that the policy covers, ranges parted into networks and those of lists included; expiry as above. */
export function coveredClients(policy: Policy, lists: Lists, at = ALWAYS): Covered<Prefix>[] {
  const parted = (range: AddressRange, site: Site) => prefixesOf(range).map((pattern) => ({ pattern, at: site }));
  return policy.covers.clients.flatMap((term: AddressTerm) => {
    if (term.type === 'range') return parted(term.range, term.at);
    const list = lists.get(term.name);
    if (list?.of !== 'addresses') return [];
    const entries = withIncluded(lists, list).flatMap((each) => (each.of === 'addresses' ? each.entries : []));
    return entries.filter((entry) => isAlive(entry, at)).flatMap((entry) => parted(entry.value, term.at));
  });
}

/**
 * Finds patterns that two policies cover equally, so that the policy of a request would be ambiguous. A policy that
 * is off covers nothing.
 */
export function checkCovers(policies: readonly Policy[], lists: Lists): Issue[] {
  const owners = new Map<string, string>();
  const issues: Issue[] = [];
  const claim = (policy: Policy, pattern: string, at: Site) => {
    const other = owners.get(pattern);
    if (other !== undefined && other !== policy.name)
      issues.push({ code: 'overlapping-covers', pattern, policy: policy.name, other, file: policy.file, ...at });
    else owners.set(pattern, policy.name);
  };
  for (const policy of policies) {
    if (policy.stance === 'off') continue;
    for (const { pattern, at } of coveredHosts(policy, lists)) claim(policy, formatDomainPattern(pattern), at);
    for (const { pattern, at } of coveredClients(policy, lists)) claim(policy, formatPrefix(pattern), at);
  }
  return issues;
}
