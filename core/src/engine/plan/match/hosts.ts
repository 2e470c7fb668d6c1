import type { HostTerm } from '../../../condition/index.js';
import { type DomainPattern, domainPatterns, domainSetContains } from '../../../domain/index.js';
import type { PreparedRules } from '../../prepared.js';
import { type Matcher, numbered, post } from './matcher.js';

/** Lists of up to this many entries share one index, so that a host is looked up once for all of them. */
const MOST_INDEXED = 20_000;

/** An index of domain patterns by name: exact patterns, and patterns for all names below. */
export class DomainIndex {
  readonly #exact = new Map<string, number[]>();
  readonly #under = new Map<string, number[]>();

  add({ reach, name }: DomainPattern, number: number): void {
    if (reach !== 'only-under') post(this.#exact, name, number);
    if (reach !== 'exact') post(this.#under, name, number);
  }

  /** Adds the numbers of all patterns that mean the host. */
  collect(host: string, into: number[]): void {
    const exact = this.#exact.get(host);
    if (exact) into.push(...exact);
    if (this.#under.size === 0) return;
    for (let dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1)) {
      const under = this.#under.get(host.slice(dot + 1));
      if (under) into.push(...under);
    }
  }
}

/** Matches a host, in its normal form, against terms. Lists are compiled with the rules. */
export function matchHosts(terms: readonly HostTerm[], { lists }: PreparedRules): Matcher<string> {
  const index = new DomainIndex();
  for (const { term, number } of numbered(terms, 'host')) index.add(term.pattern, number);
  const large = numbered(terms, 'list').flatMap(({ term, number }) => {
    const set = lists.domains.get(term.name);
    if (set && set.size > MOST_INDEXED) return [{ set, number }];
    for (const pattern of set ? domainPatterns(set) : []) index.add(pattern, number);
    return [];
  });
  return (host) => {
    const found: number[] = [];
    index.collect(host, found);
    for (const { set, number } of large) if (domainSetContains(set, host)) found.push(number);
    return found;
  };
}
