import {
  type Address,
  type AddressRange,
  type AddressSet,
  addressSet,
  complement,
  setContains,
  setCovers,
  setRanges,
  setSamples,
} from '../../address/index.js';
import { tupleKey } from '../../column/index.js';
import {
  type AddressTerm,
  type CountryTerm,
  formatTerm,
  type HostTerm,
  type PathTerm,
  type PortTerm,
  partTerms,
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
import type { Policy } from '../../policy/index.js';
import { type PathPattern, type PathSettings, pathPatternUnder, urlPatternUnder } from '../../url/index.js';
import { domainCovers, domainsDisjoint, pathCovers, pathsDisjoint, textCovers, urlCovers } from './patterns.js';
import { remembered } from './remember.js';

/** Lists of up to this many domains are compared entry by entry; larger ones by their names alone. */
const MOST_COMPARED = 2_000;

/** What a policy reads requests by, as far as tests of one field depend on it. */
export type Reads = Pick<Policy, 'paths' | 'destinations'>;

/** Fields that have several values where the policy resolves destinations. */
const OF_SEVERAL: readonly Test['field'][] = ['destination', 'destination-country'];

/** Whether a request that passes the inner test always passes the outer one, of the same field. Where unsure, no. */
export function testCovers(outer: Test, inner: Test, prepared: Prepared, { paths, destinations }: Reads): boolean {
  if (shown(outer, prepared) === shown(inner, prepared)) return true;
  // A host with an address inside and one outside does not pass a negation, whichever of them the inner test is about.
  if (destinations.resolve && OF_SEVERAL.includes(outer.field) && partTerms(outer).left.length > 0) return false;
  switch (outer.field) {
    case 'client':
    case 'peer':
    case 'destination':
      return addressesCover(outer, inner, prepared);
    case 'country':
    case 'destination-country':
    case 'method':
    case 'scheme':
    case 'protocol':
      return valueSetCovers(valueSet(outer, prepared), valueSet(inner, prepared));
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
        (a, b) => pathCovers(pathOf(a, paths), pathOf(b, paths)),
        (a, b) => pathsDisjoint(pathOf(a, paths), pathOf(b, paths)),
      );
    case 'url':
      return termsCover(outer, inner, (a, b) => urlTermCovers(a as UrlTerm, b as UrlTerm, paths));
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

/** The values of a test as one text, whatever their order. */
const shown = remembered((test: Test) =>
  valuesOf(test)
    .map((value) => {
      const terms = termsOf(value).map((term) => tupleKey([term.type, formatTerm(term)]));
      return tupleKey([value.type === 'not' ? 'not' : '', ...terms.sort()]);
    })
    .sort()
    .join(),
);

type Compare = (outer: Term, inner: Term) => boolean;

/** Each value of the inner test must be covered by one of the outer: a term by a term, or by a negation that it is apart from. */
function termsCover(outer: Test, inner: Test, covers: Compare, disjoint: Compare = () => false): boolean {
  return valuesOf(inner).every((value) =>
    valuesOf(outer).some((over) => {
      if (value.type !== 'not')
        return over.type === 'not'
          ? over.values.every((left) => disjoint(left, value as Term))
          : covers(over as Term, value as Term);
      // A value outside of all of many is outside of some of them.
      return over.type === 'not' && over.values.every((left) => value.values.some((more) => covers(more, left)));
    }),
  );
}

/** This many addresses of each term are tried before whole sets are compared; for most tests the first one decides. */
const SAMPLES = 4;

function addressesCover(outer: Test, inner: Test, prepared: Prepared): boolean {
  const known = coveredBy(outer, prepared);
  const covers =
    known.get(inner) ??
    (samplesOf(inner, prepared).every((address) => passes(outer, address, prepared)) &&
      setCovers(addressesOf(outer, prepared), addressesOf(inner, prepared)));
  known.set(inner, covers);
  return covers;
}

const addressLists = ({ lists }: Prepared) => lists.addresses;

/** The facts about the tests that a test covers. */
const coveredBy = remembered((_outer: Test) => new WeakMap<Test, boolean>(), addressLists);

const samplesOf = remembered(
  (test: Test, prepared: Prepared) =>
    partTerms(test).asked.flatMap((term) => setSamples(addressesOfTerm(term as AddressTerm, prepared), SAMPLES)),
  addressLists,
);

function passes(test: Test, address: Address, prepared: Prepared): boolean {
  const isIn = (term: Term) => setContains(addressesOfTerm(term as AddressTerm, prepared), address);
  return valuesOf(test).some((value) => (value.type === 'not' ? !value.values.some(isIn) : isIn(value as Term)));
}

const setOf = remembered((range: AddressRange) => addressSet([range]));

function addressesOfTerm(term: AddressTerm, prepared: Prepared): AddressSet {
  return term.type === 'list' ? (prepared.lists.addresses.get(term.name) ?? NOBODY) : setOf(term.range, prepared);
}

const NOBODY = addressSet([]);

/** All addresses that pass the test. */
const addressesOf = remembered((test: Test, prepared: Prepared): AddressSet => {
  const sets = valuesOf(test).map((value) => {
    const inner = termsOf(value).map((term) => addressesOfTerm(term as AddressTerm, prepared));
    return value.type === 'not' ? complement(joined(inner)) : joined(inner);
  });
  return joined(sets);
}, addressLists);

const joined = (sets: readonly AddressSet[]): AddressSet =>
  sets.length === 1 ? (sets[0] as AddressSet) : addressSet(sets.flatMap(setRanges));

/** Values of a field that has one: those that are named, or all but those. */
interface ValueSet {
  readonly allBut: boolean;
  readonly values: ReadonlySet<string>;
}

const valueSet = remembered((test: Test, prepared: Prepared): ValueSet => {
  const textsOf = (term: Term) =>
    test.field === 'country' || test.field === 'destination-country'
      ? countriesOf(term as CountryTerm, prepared)
      : [formatTerm(term)];
  const found = valuesOf(test).map(
    (value): ValueSet => ({
      allBut: value.type === 'not',
      values: new Set(termsOf(value).flatMap(textsOf)),
    }),
  );
  return found.reduce(union);
});

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
  if (outer.type === 'host' && inner.type === 'host') return domainCovers(outer.pattern, inner.pattern);
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

const pathOf = (term: Term, paths: PathSettings): PathPattern => pathPatternUnder(paths, (term as PathTerm).pattern);

function urlTermCovers(outer: UrlTerm, inner: UrlTerm, paths: PathSettings): boolean {
  if (sameTerm(outer, inner)) return true;
  if (outer.type !== 'url' || inner.type !== 'url') return false;
  return urlCovers(urlPatternUnder(paths, outer.pattern), urlPatternUnder(paths, inner.pattern));
}

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
