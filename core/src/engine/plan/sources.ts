import { type AddressRange, addressSet } from '../../address/index.js';
import type {
  AddressTerm,
  CountryTerm,
  FieldName,
  HostTerm,
  NameTerm,
  PathTerm,
  PortTerm,
  SizeTerm,
  Term,
  TextTerm,
  TokenTerm,
  UrlTerm,
  UserTerm,
} from '../../condition/index.js';
import { formatTerm } from '../../condition/index.js';
import {
  makeRequest,
  OWN_FIELDS,
  packValues,
  portOf,
  type Request,
  textValues,
  unpackValues,
} from '../../request/index.js';
import type { PathSettings } from '../../url/index.js';
import type { PreparedRules } from '../prepared.js';
import { namesOf } from '../reference/test.js';
import { Axis } from './axis.js';
import type { Matched } from './classes.js';
import type { ClauseTest } from './clauses.js';
import { matchHosts } from './match/hosts.js';
import { numbered } from './match/matcher.js';
import { matchCountries, matchPorts, matchSchedules, matchSizes, matchTokens, matchUsers } from './match/names.js';
import { matchPaths } from './match/paths.js';
import { matchTexts } from './match/texts.js';
import { UrlMatcher } from './match/urls.js';
import { type AddressClass, partition } from './partition/partition.js';
import type { SharedPartition } from './partition/shared.js';
import { addressSource } from './source/address-source.js';
import { numberSource } from './source/number-source.js';
import type { SourcePlan } from './source/source.js';
import { textSource } from './source/text-source.js';
import { urlSource } from './source/url-source.js';

/** The column of chunks that is `yes` for a request with all its headers. */
export const ALL_HEADERS = 'all-headers';

/** Fields that are resolved after all others, since they depend on other clauses or on rules above. */
export const LATE_FIELDS: readonly string[] = ['tag', 'category', 'application'];

export interface SourcesInput {
  readonly tests: ReadonlyMap<string, readonly ClauseTest[]>;
  readonly clauses: number;
  readonly prepared: PreparedRules;
  readonly shared: SharedPartition;
  /** How the policy reads paths. */
  readonly paths: PathSettings;
}

/** The sources that the tests of a policy need, each with its axes. */
export function planSources(input: SourcesInput): SourcePlan[] {
  const names = [...input.tests.keys()].filter((name) => !LATE_FIELDS.includes(name));
  const plans: SourcePlan[] = [];
  const done = new Set<string>();
  for (const name of names) {
    if (done.has(name)) continue;
    const together = names.filter((each) => columnOf(each) === columnOf(name));
    for (const each of together) done.add(each);
    plans.push(planSource(together as FieldName[], input));
  }
  return plans;
}

/** Fields of the same column make one source: the client and its country, the parameters of a query. */
function columnOf(name: string): string {
  if (name === 'country') return 'client';
  if (name === 'group') return 'user';
  if (name.startsWith('query.')) return 'query';
  if (name.startsWith('cookie.')) return 'header.cookie';
  const header = name.startsWith('header.') ? name.slice('header.'.length) : undefined;
  return (header !== undefined && OWN_FIELDS.get(header)) || name;
}

function planSource(names: readonly FieldName[], input: SourcesInput): SourcePlan {
  const { prepared } = input;
  const axes = names.map((name) => axisOf(name, input));
  const [axis] = axes as [Axis, ...Axis[]];
  const column = columnOf(names[0] as string);
  switch (column) {
    case 'client':
    case 'peer':
    case 'destination':
      return planAddresses(column, axes, input);
    case 'host': {
      const match = matchHosts(axis.terms as HostTerm[], prepared);
      return plainText(axes, column, (host) => match(host));
    }
    case 'path': {
      const match = matchPaths(axis.terms as PathTerm[], input.paths);
      return plainText(axes, column, (path) => match(path));
    }
    case 'method':
    case 'scheme': {
      const match = matchTokens(axis.terms as TokenTerm[]);
      return plainText(axes, column, (token) => match(token));
    }
    case 'protocol': {
      const match = matchTokens(axis.terms as TokenTerm[]);
      return plainText(axes, column, (token) => match(token.toUpperCase()));
    }
    case 'url':
      return urlSource(axis, new UrlMatcher(axis.terms as UrlTerm[], prepared, input.paths));
    case 'user':
      return planUsers(axes, prepared);
    case 'port': {
      const match = matchPorts(axis.terms as PortTerm[]);
      return planNumber(axis, column, portOf, (port) => port, match);
    }
    case 'size': {
      const terms = axis.terms as SizeTerm[];
      return planNumber(axis, column, (request) => request.size, sizeStep(terms), matchSizes(terms));
    }
    case 'time': {
      const match = matchSchedules(axis.terms as NameTerm[], prepared);
      return planNumber(axis, column, (request) => request.time, MINUTE, match);
    }
    default:
      return planTexts(column, axes, prepared);
  }
}

/** Schedules change at full minutes. */
const MINUTE = 60_000;

function axisOf(name: string, { tests, clauses }: SourcesInput): Axis {
  return new Axis(tests.get(name) as readonly ClauseTest[], clauses, termKey);
}

/** Terms of the same key match the same values. */
export const termKey = (term: Term): string => `${term.type} ${formatTerm(term)}`;

function plainText(
  axes: readonly Axis[],
  column: 'host' | 'path' | 'method' | 'scheme' | 'protocol',
  match: (text: string) => number[],
): SourcePlan {
  return textSource({
    axes,
    columns: [column],
    fewValues: column !== 'path',
    texts: (request) => [request[column]],
    match: ([text]) => [text === undefined ? undefined : { matched: match(text) }],
  });
}

function planNumber(
  axis: Axis,
  column: string,
  numberOf: (request: Request) => number | undefined,
  step: number | ((value: number) => number),
  match: (value: number) => number[],
): SourcePlan {
  const byScheme = column === 'port';
  return numberSource({
    axes: [axis],
    column,
    numberOf,
    step,
    byScheme,
    match: (value) => ({ matched: match(value) }),
  });
}

/** Sizes between two that rules compare with are one class: each of those sizes is a step, and each range between. */
function sizeStep(terms: readonly SizeTerm[]): (size: number) => number {
  const bounds = [...new Set(terms.map(({ bytes }) => bytes))].sort((a, b) => a - b);
  return (size) => {
    const at = bounds.findIndex((bound) => size <= bound);
    return at < 0 ? bounds.length * 2 : at * 2 + (size === bounds[at] ? 1 : 0);
  };
}

function planAddresses(
  of: 'client' | 'peer' | 'destination',
  axes: readonly Axis[],
  { prepared, shared }: SourcesInput,
): SourcePlan {
  const sets = axes.flatMap((axis) => ownSets(axis));
  const own = partition(sets.map(({ ranges }) => addressSet(ranges)));
  const byAxis = axes.map((axis) => {
    if (axis.field === 'country') {
      const match = matchCountries(axis.terms as CountryTerm[], prepared);
      return ({ country }: AddressClass): Matched => (country === undefined ? undefined : { matched: match(country) });
    }
    const listed = new Map(
      numbered(axis.terms as AddressTerm[], 'list').map(({ term, number }) => [shared.lists.get(term.name), number]),
    );
    return ({ sets: shareds }: AddressClass, { sets: owned }: AddressClass): Matched => ({
      matched: [
        ...shareds.flatMap((set) => listed.get(set) ?? []),
        ...owned.map((set) => (sets[set] as OwnSet).number),
      ],
    });
  });
  const match = (inShared: AddressClass, inOwn: AddressClass) => byAxis.map((matchAxis) => matchAxis(inShared, inOwn));
  return addressSource({ axes, of, shared: shared.partition, own, match });
}

/** Groups the addresses that rules name by the terms that they match, each with the number of one of them. */
interface OwnSet {
  readonly ranges: readonly AddressRange[];
  readonly number: number;
}

function ownSets(axis: Axis): OwnSet[] {
  const ranges = new Map(
    numbered(axis.terms as AddressTerm[], 'range').map(({ term, number }) => [number, term.range]),
  );
  return axis.alike([...ranges.keys()]).map((numbers) => ({
    ranges: numbers.map((number) => ranges.get(number) as AddressRange),
    number: numbers[0] as number,
  }));
}

function planUsers(axes: readonly Axis[], prepared: PreparedRules): SourcePlan {
  const byAxis = axes.map((axis) => ({
    field: axis.field as 'user' | 'group',
    match: matchUsers(axis.terms as UserTerm[], prepared),
  }));
  return textSource({
    axes,
    columns: ['user', 'groups'],
    texts: ({ user, groups }) => [user, groups?.join('\n')],
    match: ([user, groups]) => {
      const request = makeRequest({ user, groups: groups === undefined ? undefined : linesOf(groups) });
      return byAxis.map(({ field, match }): Matched => {
        const names = namesOf(field, request);
        return names && { matched: match(names) };
      });
    },
  });
}

const linesOf = (text: string): string[] => (text === '' ? [] : text.split('\n'));

/** Fields of text: the agent, the referrer, headers, and the parameters of queries and cookies. */
function planTexts(column: string, axes: readonly Axis[], prepared: PreparedRules): SourcePlan {
  const byAxis = axes.map((axis) => {
    const dot = axis.field.indexOf('.');
    const field = (dot < 0 ? axis.field : axis.field.slice(0, dot)) as 'agent';
    return { field, name: axis.field.slice(dot + 1), match: matchTexts(axis.terms as TextTerm[], prepared) };
  });
  const { columns, texts, requestOf } = textColumns(column);
  return textSource({
    axes,
    columns,
    texts,
    match: (seen) => {
      const request = requestOf(seen);
      return byAxis.map(({ field, name, match }): Matched => {
        const values = textValues(request, field, name);
        return values && { matched: match(values) };
      });
    },
  });
}

type Texts = readonly (string | undefined)[];

interface TextColumns {
  readonly columns: readonly string[];
  readonly texts: (request: Request) => Texts;
  /** A request that shows just these texts. */
  readonly requestOf: (texts: Texts) => Request;
}

/** The columns that a text field is read from. */
function textColumns(column: string): TextColumns {
  switch (column) {
    case 'agent':
      return headerColumns('user-agent', column);
    case 'referrer':
      return headerColumns('referer', column);
    case 'query':
      // For a query it only matters whether the path is seen.
      return {
        columns: ['query', 'path'],
        texts: ({ query, path }) => [query, path],
        requestOf: ([query, path]) => makeRequest({ query, path }),
      };
    default:
      return headerColumns(column.slice('header.'.length));
  }
}

/** A header's own column, whether the log has all headers, and before them the field that holds this one alone, if any. */
function headerColumns(header: string, own?: 'agent' | 'referrer'): TextColumns {
  const columns = [`header.${header}`, ALL_HEADERS];
  const textsOf = ({ headers, allHeaders }: Request): Texts => {
    const values = headers.get(header);
    const isHidden = values === undefined && headers.has(header);
    return [values && packValues(values), allHeaders && !isHidden ? 'yes' : undefined];
  };
  const fieldsOf = ([packed, all]: Texts) => ({
    headers: new Map(packed === undefined ? [] : [[header, unpackValues(packed)]]),
    allHeaders: all !== undefined,
  });
  if (own === undefined) return { columns, texts: textsOf, requestOf: (texts) => makeRequest(fieldsOf(texts)) };
  return {
    columns: [own, ...columns],
    texts: (request) => [request[own], ...textsOf(request)],
    requestOf: ([text, ...texts]) => makeRequest({ ...fieldsOf(texts), [own]: text }),
  };
}
