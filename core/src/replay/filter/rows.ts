import { isRangeFault, parseAddress, rangeContains, tryRange } from '../../address/index.js';
import type { ColumnTable } from '../../column/index.js';
import { patternMatches, tryDomainPattern } from '../../domain/index.js';
import { numberColumn, textColumn } from '../../engine/index.js';
import { isPathFault, pathMatches, tryPathPattern } from '../../url/index.js';
import type { Catalogue, CatalogueField } from '../catalogue.js';
import type { FilterInput, RequestFilter } from './filter.js';

export type RowTest = (row: number) => boolean;

export const UNSEEN = 'unseen';

/** What is wrong with a field of a filter, and what would be right. */
export interface FilterFault {
  readonly field: keyof RequestFilter;
  readonly what: string;
}

/** Everything that is wrong with what the filter says of requests. */
export function filterFaults({ host, path, client, status }: RequestFilter): FilterFault[] {
  const faults: FilterFault[] = [];
  const asks = (value: string | undefined): value is string => value !== undefined && value !== UNSEEN;
  if (asks(host) && typeof tryDomainPattern(host) === 'string')
    faults.push({ field: 'host', what: 'is no host; it is a name, `.name` for all under it too, or `*.name`' });
  if (asks(path) && isPathFault(tryPathPattern(path)))
    faults.push({ field: 'path', what: 'is no path; it starts with `/` or `**`, or is a `~expression`' });
  if (asks(client) && isRangeFault(tryRange(client)))
    faults.push({ field: 'client', what: 'is no address, network or range' });
  if (asks(status) && !/^[1-9](?:\d\d|xx)$/.test(status))
    faults.push({ field: 'status', what: 'is no status; it is three digits, or a class such as `4xx`' });
  return faults;
}

/** The tests of all that the filter says of requests; undefined where no row of the chunk can hold them. */
export function fieldTests(input: FilterInput, filter: RequestFilter): RowTest[] | undefined {
  const { table, catalogue } = input;
  const ofVerdicts = [countryTest(input, filter), clientTest(input, filter)].filter((test) => test !== undefined);
  const ofRequests = table ? logTests(table, filter, catalogue) : [];
  return ofRequests === undefined || ofVerdicts.includes(NEVER) ? undefined : [...ofVerdicts, ...ofRequests];
}

/** The tests of what the filter says of requests themselves, whatever became of them; undefined as above. */
export function logTests(
  table: ColumnTable,
  filter: RequestFilter,
  catalogue: Catalogue | undefined,
): RowTest[] | undefined {
  const tests = requestTests(table, filter);
  if (catalogue)
    for (const field of ['category', 'application'] as const)
      tests.push(catalogueTest(table, catalogue, field, filter));
  const given = tests.filter((test) => test !== undefined);
  return given.includes(NEVER) ? undefined : given;
}

/** Stands where no row can hold. */
const NEVER: RowTest = () => false;

function countryTest({ verdicts }: FilterInput, { country }: RequestFilter): RowTest | undefined {
  if (country === undefined) return undefined;
  const code = verdicts.countryCode(country === UNSEEN ? null : country);
  return code === undefined ? NEVER : (row) => verdicts.countryCodeOf(row) === code;
}

function clientTest({ verdicts }: FilterInput, { client }: RequestFilter): RowTest | undefined {
  if (client === undefined) return undefined;
  if (client === UNSEEN) return (row) => verdicts.clientCode(row) === 0;
  const range = tryRange(client);
  if (isRangeFault(range)) return NEVER;
  // Each distinct client is looked at once.
  const byCode = verdicts.clientsThat((address) => address !== undefined && rangeContains(range, address));
  return byCode.includes(1) ? (row) => byCode[verdicts.clientCode(row)] === 1 : NEVER;
}

function requestTests(table: ColumnTable, filter: RequestFilter): (RowTest | undefined)[] {
  const { host, path, method, status, from, to } = filter;
  return [
    textTest(table, 'host', host, (text) => {
      const pattern = tryDomainPattern(text);
      // An address literal is no name, and is compared as it is.
      return typeof pattern === 'string' || parseAddress(text)
        ? (seen) => seen === text
        : (seen) => patternMatches(pattern, seen);
    }),
    textTest(table, 'path', path, (text) => {
      const pattern = tryPathPattern(text);
      return isPathFault(pattern) ? () => false : (seen) => pathMatches(pattern, seen);
    }),
    textTest(table, 'method', method, (text) => (seen) => seen === text.toUpperCase()),
    statusTest(table, status),
    from === undefined && to === undefined ? undefined : timeTest(table, from, to),
  ];
}

/** Each distinct text is looked at once. */
function textTest(
  table: ColumnTable,
  name: string,
  wanted: string | undefined,
  compile: (wanted: string) => (seen: string) => boolean,
): RowTest | undefined {
  if (wanted === undefined) return undefined;
  const column = textColumn(table, name);
  if (wanted === UNSEEN) return (row) => column === undefined || column.codes[row] === 0;
  if (column === undefined) return NEVER;
  const matches = compile(wanted);
  const byCode = Uint8Array.from([0, ...column.dictionary.map((text) => (matches(text) ? 1 : 0))]);
  return byCode.includes(1) ? (row) => byCode[column.codes[row] as number] === 1 : NEVER;
}

function statusTest(table: ColumnTable, wanted: string | undefined): RowTest | undefined {
  if (wanted === undefined) return undefined;
  const statuses = numberColumn(table, 'status');
  if (wanted === UNSEEN) return (row) => statuses === undefined || Number.isNaN(statuses[row]);
  if (statuses === undefined) return NEVER;
  const first = Number(wanted.replace('xx', '00'));
  const last = wanted.endsWith('xx') ? first + 99 : first;
  return (row) => (statuses[row] as number) >= first && (statuses[row] as number) <= last;
}

function timeTest(table: ColumnTable, from = Number.NEGATIVE_INFINITY, to = Number.POSITIVE_INFINITY): RowTest {
  const times = numberColumn(table, 'time');
  return times ? (row) => (times[row] as number) >= from && (times[row] as number) < to : NEVER;
}

function catalogueTest(
  table: ColumnTable,
  catalogue: Catalogue,
  field: CatalogueField,
  filter: RequestFilter,
): RowTest | undefined {
  const wanted = filter[field];
  if (wanted === undefined) return undefined;
  const outcomes = catalogue.rows(table);
  const name = wanted === UNSEEN ? null : wanted;
  const known: (boolean | undefined)[] = [];
  return (row) => {
    const outcome = outcomes[row] as number;
    known[outcome] ??= catalogue.names(outcome, field).includes(name);
    return known[outcome];
  };
}
