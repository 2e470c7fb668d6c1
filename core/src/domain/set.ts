import type { DomainPattern } from './pattern.js';

/** An immutable set of domain patterns; a search costs one look-up for each label of the host. */
export interface DomainSet {
  readonly names: ReadonlySet<string>;
  readonly above: ReadonlySet<string>;
}

export function domainSet(patterns: Iterable<DomainPattern>): DomainSet {
  const names = new Set<string>();
  const above = new Set<string>();
  for (const { reach, name } of patterns) {
    if (reach !== 'only-under') names.add(name);
    if (reach !== 'exact') above.add(name);
  }
  return { names, above };
}

/** Whether any pattern of the set means the host, which must be in normal form. */
export function domainSetContains(set: DomainSet, host: string): boolean {
  if (set.names.has(host)) return true;
  for (let dot = host.indexOf('.'); dot >= 0; dot = host.indexOf('.', dot + 1))
    if (set.above.has(host.slice(dot + 1))) return true;
  return false;
}
