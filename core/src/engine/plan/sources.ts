import type {
  FieldName,
  HostTerm,
  NameTerm,
  PathTerm,
  PortTerm,
  SizeTerm,
  Term,
  TokenTerm,
  UrlTerm,
} from '../../condition/index.js';
import { formatTerm } from '../../condition/index.js';
import { OWN_FIELDS, portOf, type Request } from '../../request/index.js';
import { planAddresses } from './address-fields.js';
import { Axis } from './axis.js';
import type { ClauseTest } from './clauses.js';
import { matchHosts } from './match/hosts.js';
import { matchPorts, matchSchedules, matchSizes, matchTokens } from './match/names.js';
import { matchPaths } from './match/paths.js';
import { UrlMatcher } from './match/urls.js';
import { numberSource } from './source/number-source.js';
import type { SourcePlan } from './source/source.js';
import { textSource } from './source/text-source.js';
import { urlSource } from './source/url-source.js';
import type { SourcesInput } from './sources-input.js';
import { planTexts, planUsers } from './text-fields.js';

/** Fields that are resolved after all others, since they depend on other clauses or on rules above. */
export const LATE_FIELDS: readonly string[] = ['tag', 'category', 'application'];

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

/** Fields of the same column make one source: an address and its country, the parameters of a query. */
function columnOf(name: string): string {
  if (name === 'country') return 'client';
  if (name === 'destination-country') return 'destination';
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
