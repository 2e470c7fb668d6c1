import { type AddressRange, type AddressSet, addressSet } from '../address/index.js';
import { changedDomainSet, type DomainPattern, type DomainSet, domainSet } from '../domain/index.js';
import type { TextPattern } from '../pattern/index.js';
import type { UrlPattern } from '../url/index.js';
import { endingEntries, isAlive } from './expiry.js';
import { type Lists, withIncluded } from './link.js';
import type { DomainList, List, ListSort } from './list.js';

/** The entries of each list at one instant, with those of included lists, ready to search. */
export interface ListSets {
  readonly addresses: ReadonlyMap<string, AddressSet>;
  readonly countries: ReadonlyMap<string, ReadonlySet<string>>;
  readonly domains: ReadonlyMap<string, DomainSet>;
  readonly urls: ReadonlyMap<string, readonly UrlPattern[]>;
  readonly users: ReadonlyMap<string, ReadonlySet<string>>;
  readonly agents: ReadonlyMap<string, readonly TextPattern[]>;
}

interface ValueOf {
  readonly addresses: AddressRange;
  readonly countries: string;
  readonly domains: DomainPattern;
  readonly urls: UrlPattern;
  readonly users: string;
  readonly agents: TextPattern;
}

/** Sets compiled earlier: those of unchanged lists are reused. */
export interface CompiledBefore {
  readonly lists: Lists;
  readonly sets: ListSets;
  readonly at: number;
}

/** Compiles all lists. Entries that have expired at the instant `at`, in milliseconds since 1970, are left out. */
export function compileLists(lists: Lists, at: number, before?: CompiledBefore): ListSets {
  const same = before && unchangedLists(lists, at, before);
  const of = <S extends ListSort>(sort: S, whole: Compile<S>['whole'], edited?: Compile<S>['edited']) =>
    compileSort({ lists, at, same }, sort, { whole, edited }, before);
  const sets: ListSets = {
    addresses: of('addresses', addressSet),
    countries: of('countries', (codes) => new Set(codes)),
    domains: of('domains', domainSet, editedDomains),
    urls: of('urls', (patterns) => patterns),
    users: of('users', (users) => new Set(users)),
    agents: of('agents', (patterns) => patterns),
  };
  const sorts = Object.keys(sets) as (keyof ListSets)[];
  return before && sorts.every((sort) => sets[sort] === before.sets[sort]) ? before.sets : sets;
}

type SetOf<S extends ListSort> = ListSets[S] extends ReadonlyMap<string, infer C> ? C : never;
interface Compile<S extends ListSort> {
  readonly whole: (values: readonly ValueOf[S][]) => SetOf<S>;
  /** Makes the set of a list from that of the list that it was edited from. */
  readonly edited?: ((set: SetOf<S>, list: Extract<List, { of: S }>) => SetOf<S>) | undefined;
}

interface Compiling {
  readonly lists: Lists;
  readonly at: number;
  /** The names of the lists that hold what they held before; undefined where nothing was compiled before. */
  readonly same: ReadonlySet<string> | undefined;
}

/** The sets of one sort: the very map of before where all of them are the same. */
function compileSort<S extends ListSort>(
  { lists, at, same }: Compiling,
  sort: S,
  compile: Compile<S>,
  before: CompiledBefore | undefined,
): ListSets[S] {
  const known = before?.sets[sort] as ReadonlyMap<string, SetOf<S>> | undefined;
  const own = [...lists.values()].filter((list) => list.of === sort);
  if (known && known.size === own.length && own.every(({ name }) => same?.has(name))) return known as ListSets[S];
  const found = new Map<string, SetOf<S>>();
  for (const list of own) {
    const before = same?.has(list.name) ? known?.get(list.name) : undefined;
    found.set(list.name, before ?? compileList(lists, list, sort, at, compile));
  }
  return found as unknown as ListSets[S];
}

/** Sets of lists that include no other and never expire: the next state of a workspace uses them again. */
const remembered = new WeakMap<List, unknown>();

function compileList<S extends ListSort>(lists: Lists, list: List, sort: S, at: number, compile: Compile<S>): SetOf<S> {
  return standsAlone(list) ? setAlone(list, sort, compile) : compile.whole(aliveValues(lists, list, sort, at));
}

const standsAlone = (list: List): boolean => list.include.length === 0 && endingEntries(list).length === 0;

function setAlone<S extends ListSort>(list: List, sort: S, compile: Compile<S>): SetOf<S> {
  const known = remembered.get(list) as SetOf<S> | undefined;
  if (known !== undefined) return known;
  const from = list.edited?.from as List | undefined;
  const set =
    from && compile.edited && standsAlone(from)
      ? compile.edited(setAlone(from, sort, compile), list as Extract<List, { of: S }>)
      : compile.whole(list.entries.map(({ value }) => value as ValueOf[S]));
  remembered.set(list, set);
  return set;
}

function editedDomains(set: DomainSet, { entries, edited }: DomainList): DomainSet {
  const left = new Map(edited?.removed.map(({ value }): [string, DomainPattern[]] => [value.name, []]));
  if (left.size > 0) for (const { value } of entries) left.get(value.name)?.push(value);
  return changedDomainSet(set, { added: edited?.added.map(({ value }) => value) ?? [], left });
}

/** The lists that are what they were, with all that they include, and of which nothing expires between the instants. */
function unchangedLists(lists: Lists, at: number, before: CompiledBefore): Set<string> {
  const [from, to] = at < before.at ? [at, before.at] : [before.at, at];
  const expires = (list: List) =>
    from !== to && endingEntries(list).some(({ until = 0 }) => until > from && until <= to);
  const own = new Set([...lists.values()].filter((list) => before.lists.get(list.name) === list && !expires(list)));
  return new Set(
    [...own].filter((list) => withIncluded(lists, list).every((each) => own.has(each))).map(({ name }) => name),
  );
}

/** The values of a list and of all that it includes, less those of entries that have expired at the instant. */
export function aliveValues<S extends ListSort>(lists: Lists, list: List, sort: S, at: number): ValueOf[S][] {
  const values: ValueOf[S][] = [];
  for (const each of withIncluded(lists, list)) {
    if (each.of !== sort) continue;
    for (const entry of each.entries) if (isAlive(entry, at)) values.push(entry.value as ValueOf[S]);
  }
  return values;
}
