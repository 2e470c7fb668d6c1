import {
  type AddressRange,
  type AddressSet,
  addressSet,
  complement,
  rangeContains,
  setRanges,
} from '../../address/index.js';
import {
  type AddressTerm,
  type CountryTerm,
  formatTerm,
  type HostTerm,
  type PathTerm,
  type PortTerm,
  type SizeTerm,
  type Term,
  type Test,
  type TextTerm,
  termsOf,
  type UrlTerm,
  valuesOf,
} from '../../condition/index.js';
import type { DomainPattern } from '../../domain/index.js';
import type { Prepared } from '../../engine/index.js';
import { aliveValues } from '../../list/index.js';
import { domainCovers, domainsDisjoint, pathCovers, pathsDisjoint, textCovers, urlCovers } from './patterns.js';

/** Lists of domains up to so many entries are compared entry by entry; larger ones by their names alone. */
const MOST_COMPARED = 2_000;

/** Whether a request that passes the inner test always passes the outer one, of the same field. Where unsure, no. */
export function testCovers(outer: Test, inner: Test, prepared: Prepared): boolean {
  if (sameValues(outer, inner)) return true;
  switch (outer.field) {
    case 'client':
    case 'peer':
    case 'destination':
      return setCovers(addressesOf(outer, prepared), addressesOf(inner, prepared));
    case 'country':
      return valueSetCovers(
        valueSet(outer, (term) => countriesOf(term as CountryTerm, prepared)),
        valueSet(inner, (term) => countriesOf(term as CountryTerm, prepared)),
      );
    case 'method':
    case 'scheme':
    case 'protocol':
      return valueSetCovers(
        valueSet(outer, (term) => [formatTerm(term)]),
        valueSet(inner, (term) => [formatTerm(term)]),
      );
    case 'host':
      return termsCover(
        outer,
        inner,
        (a, b) => hostCovers(a as HostTerm, b as HostTerm, prepared),
        (a, b) => hostsDisjoint(a as HostTerm, b as HostTerm, prepared),
      );
    case 'path':
      return termsCover(
        outer,
        inner,
        (a, b) => pathCovers((a as PathTerm).pattern, (b as PathTerm).pattern),
        (a, b) => pathsDisjoint((a as PathTerm).pattern, (b as PathTerm).pattern),
      );
    case 'url':
      return termsCover(outer, inner, (a, b) => urlTermCovers(a as UrlTerm, b as UrlTerm));
    case 'port':
      return termsCover(
        outer,
        inner,
        (a, b) => portCovers(a as PortTerm, b as PortTerm),
        (a, b) => portsDisjoint(a as PortTerm, b as PortTerm),
      );
    case 'size':
      return termsCover(outer, inner, (a, b) => sizeCovers(a as SizeTerm, b as SizeTerm));
    case 'agent':
    case 'referrer':
    case 'header':
    case 'query':
    case 'cookie':
      return termsCover(outer, inner, (a, b) => textTermCovers(a as TextTerm, b as TextTerm));
    case 'user':
    case 'group':
    case 'category':
    case 'application':
    case 'tag':
    case 'time':
      return termsCover(outer, inner, sameTerm);
  }
}

const sameTerm = (a: Term, b: Term): boolean => a.type === b.type && formatTerm(a) === formatTerm(b);

function sameValues(a: Test, b: Test): boolean {
  const told = (test: Test) =>
    valuesOf(test)
      .map(
        (value) =>
          `${value.type === 'not' ? 'not ' : ''}${termsOf(value)
            .map((term) => `${term.type} ${formatTerm(term)}`)
            .sort()
            .join()}`,
      )
      .sort()
      .join(' | ');
  return told(a) === told(b);
}

type Compare = (outer: Term, inner: Term) => boolean;

/** Each value of the inner test must be covered by one of the outer: a term by a term, or by a negation that it is apart from. */
function termsCover(outer: Test, inner: Test, covers: Compare, disjoint: Compare = () => false): boolean {
  return valuesOf(inner).every((value) =>
    valuesOf(outer).some((over) => {
      if (value.type !== 'not')
        return over.type === 'not'
          ? over.values.every((left) => disjoint(left, value as Term))
          : covers(over as Term, value as Term);
      // What is none of many is none of some of them.
      return over.type === 'not' && over.values.every((left) => value.values.some((more) => covers(more, left)));
    }),
  );
}

const addressCache = new WeakMap<Test, { readonly lists: Prepared['lists']; readonly set: AddressSet }>();

/** All addresses that pass the test. */
function addressesOf(test: Test, { lists }: Prepared): AddressSet {
  const known = addressCache.get(test);
  if (known?.lists === lists) return known.set;
  const rangesOf = (term: AddressTerm): readonly AddressRange[] => {
    if (term.type === 'range') return [term.range];
    const set = lists.addresses.get(term.name);
    return set ? setRanges(set) : [];
  };
  const ranges = valuesOf(test).flatMap((value) => {
    const inner = termsOf(value).flatMap((term) => rangesOf(term as AddressTerm));
    return value.type === 'not' ? setRanges(complement(addressSet(inner))) : inner;
  });
  const set = addressSet(ranges);
  addressCache.set(test, { lists, set });
  return set;
}

/** Both are merged, so that a range of the inner lies within one range of the outer or is not covered. */
function setCovers(outer: AddressSet, inner: AddressSet): boolean {
  const over = setRanges(outer);
  let at = 0;
  return setRanges(inner).every((range) => {
    while (at < over.length && !rangeContains(over[at] as AddressRange, range.first)) at++;
    return at < over.length && rangeContains(over[at] as AddressRange, range.last);
  });
}

/** Values of a field that has one: those that are named, or all but those. */
interface ValueSet {
  readonly allBut: boolean;
  readonly values: ReadonlySet<string>;
}

function valueSet(test: Test, valuesOfTerm: (term: Term) => readonly string[]): ValueSet {
  const found = valuesOf(test).map(
    (value): ValueSet => ({
      allBut: value.type === 'not',
      values: new Set(termsOf(value).flatMap(valuesOfTerm)),
    }),
  );
  return found.reduce(union);
}

function union(a: ValueSet, b: ValueSet): ValueSet {
  if (a.allBut && b.allBut)
    return { allBut: true, values: new Set([...a.values].filter((each) => b.values.has(each))) };
  if (!a.allBut && !b.allBut) return { allBut: false, values: new Set([...a.values, ...b.values]) };
  const [but, named] = a.allBut ? [a, b] : [b, a];
  return { allBut: true, values: new Set([...but.values].filter((each) => !named.values.has(each))) };
}

function valueSetCovers(outer: ValueSet, inner: ValueSet): boolean {
  if (inner.allBut) return outer.allBut && [...outer.values].every((each) => inner.values.has(each));
  return [...inner.values].every((each) => outer.values.has(each) !== outer.allBut);
}

function countriesOf(term: CountryTerm, { lists }: Prepared): readonly string[] {
  return term.type === 'list'
    ? [...(lists.countries.get(term.name) ?? [])]
    : [term.type === 'country' ? term.code : term.type];
}

/** The patterns of a term; undefined where they are too many to compare. */
function domainsOf(term: HostTerm, { workspace, lists, at }: Prepared): readonly DomainPattern[] | undefined {
  if (term.type === 'host') return [term.pattern];
  if ((lists.domains.get(term.name)?.size ?? 0) > MOST_COMPARED) return undefined;
  const list = workspace.lists.get(term.name);
  return list ? aliveValues(workspace.lists, list, 'domains', at) : [];
}

function hostCovers(outer: HostTerm, inner: HostTerm, prepared: Prepared): boolean {
  if (sameTerm(outer, inner)) return true;
  const [over, under] = [domainsOf(outer, prepared), domainsOf(inner, prepared)];
  return over !== undefined && (under?.every((each) => over.some((all) => domainCovers(all, each))) ?? false);
}

function hostsDisjoint(a: HostTerm, b: HostTerm, prepared: Prepared): boolean {
  const [some, others] = [domainsOf(a, prepared), domainsOf(b, prepared)];
  return (
    some !== undefined &&
    others !== undefined &&
    some.every((each) => others.every((other) => domainsDisjoint(each, other)))
  );
}

const urlTermCovers = (outer: UrlTerm, inner: UrlTerm): boolean =>
  sameTerm(outer, inner) || (outer.type === 'url' && inner.type === 'url' && urlCovers(outer.pattern, inner.pattern));

const portCovers = (outer: PortTerm, inner: PortTerm): boolean =>
  outer.first <= inner.first && inner.last <= outer.last;
const portsDisjoint = (a: PortTerm, b: PortTerm): boolean => a.last < b.first || b.last < a.first;

function sizeCovers(outer: SizeTerm, inner: SizeTerm): boolean {
  const span = ({ comparison, bytes }: SizeTerm): readonly [number, number] => {
    switch (comparison) {
      case '<':
        return [0, bytes - 1];
      case '<=':
        return [0, bytes];
      case '>':
        return [bytes + 1, Number.POSITIVE_INFINITY];
      case '>=':
        return [bytes, Number.POSITIVE_INFINITY];
    }
  };
  const [[low, high], [from, to]] = [span(outer), span(inner)];
  return low <= from && to <= high;
}

function textTermCovers(outer: TextTerm, inner: TextTerm): boolean {
  if (sameTerm(outer, inner)) return true;
  if (outer.type === 'present') return inner.type === 'text';
  return outer.type === 'text' && inner.type === 'text' && textCovers(outer.pattern, inner.pattern);
}
