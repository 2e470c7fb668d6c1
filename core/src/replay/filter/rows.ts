import {
  type Address,
  type AddressRange,
  isRangeFault,
  parseAddress,
  rangeContains,
  tryRange,
} from '../../address/index.js';
import {
  type AddressColumn,
  addressCodes,
  addressOf,
  type ColumnTable,
  type TextColumn,
  textCodes,
} from '../../column/index.js';
import { patternMatches, tryDomainPattern } from '../../domain/index.js';
import { countriesIn, numberColumn, textColumn } from '../../engine/index.js';
import { addressColumn } from '../../log/index.js';
import { clientPseudonym } from '../../redact/index.js';
import { isPathFault, pathMatches, tryPathPattern } from '../../url/index.js';
import type { Catalogue, CatalogueField } from '../catalogue.js';
import type { FilterInput, RequestFilter } from './request-filter.js';
import { CodeTest, type RowTest, SpanTest, UnseenTest } from './row-test.js';

export const UNSEEN = 'unseen';

/** A fault of a filter's field, with a remedy. */
export interface FilterFault {
  readonly field: keyof RequestFilter;
  readonly what: string;
}

/** Everything that is wrong with what the filter says of requests. */
export function filterFaults({ host, path, client, destination, status }: RequestFilter): FilterFault[] {
  const faults: FilterFault[] = [];
  const asks = (value: string | undefined): value is string => value !== undefined && value !== UNSEEN;
  if (asks(host) && typeof tryDomainPattern(host) === 'string')
    faults.push({ field: 'host', what: 'is no host; it is a name, `.name` for all under it too, or `*.name`' });
  if (asks(path) && isPathFault(tryPathPattern(path)))
    faults.push({ field: 'path', what: 'is no path; it starts with `/` or `**`, or is a `~expression`' });
  if (asks(client) && isRangeFault(tryRange(client)) && clientPseudonym(client) === undefined)
    faults.push({ field: 'client', what: 'is no address, network or range, and no pseudonym of a client' });
  if (asks(destination) && isRangeFault(tryRange(destination)))
    faults.push({ field: 'destination', what: 'is no address, network or range' });
  if (asks(status) && !/^[1-9](?:\d\d|xx)$/.test(status))
    faults.push({ field: 'status', what: 'is no status; it is three digits, or a class such as `4xx`' });
  return faults;
}

/** The test of one field: undefined when the filter has none, and `NEVER` when no row can pass. */
type Tested = RowTest | typeof NEVER | undefined;
const NEVER = 'never';

/** The tests of all that the filter says of requests; undefined where no row of the chunk can hold them. */
export function fieldTests(input: FilterInput, filter: RequestFilter): RowTest[] | undefined {
  const { table, verdicts, catalogue } = input;
  const ofVerdicts = given([
    textTest(verdicts.countries, filter.country, (wanted) => (country) => country === wanted),
    textTest(
      verdicts.destinationCountries,
      filter.destinationCountry,
      (wanted) => (countries) => countriesIn(countries).includes(wanted),
    ),
    addressTest(verdicts.clients, filter.client),
  ]);
  const ofRequests = table ? logTests(table, filter, catalogue) : [];
  return ofVerdicts && ofRequests && [...ofVerdicts, ...ofRequests];
}

/** The filter's tests of requests themselves, not of outcomes; undefined as above. */
export function logTests(
  table: ColumnTable,
  filter: RequestFilter,
  catalogue: Catalogue | undefined,
): RowTest[] | undefined {
  const tests = requestTests(table, filter);
  if (catalogue)
    for (const field of ['category', 'application'] as const)
      tests.push(catalogueTest(table, catalogue, field, filter));
  return given(tests);
}

function given(tests: readonly Tested[]): RowTest[] | undefined {
  const asked: RowTest[] = [];
  for (const test of tests) {
    if (test === NEVER) return undefined;
    if (test) asked.push(test);
  }
  return asked;
}

function addressTest(column: AddressColumn | undefined, wanted: string | undefined): Tested {
  if (wanted === undefined) return undefined;
  const range = tryRange(wanted);
  const holds = (address: Address | undefined) =>
    wanted === UNSEEN ? address === undefined : address !== undefined && rangeContains(range as AddressRange, address);
  if (wanted !== UNSEEN && isRangeFault(range)) return NEVER;
  if (column === undefined) return wanted === UNSEEN ? undefined : NEVER;
  const byCode = new Uint8Array(addressCodes(column));
  for (let code = 0; code < byCode.length; code++) byCode[code] = holds(addressOf(column, code)) ? 1 : 0;
  return codeTest(column.codes, byCode);
}

const codeTest = (codes: Uint32Array, byCode: Uint8Array): Tested =>
  byCode.includes(1) ? new CodeTest(codes, byCode) : NEVER;

function requestTests(table: ColumnTable, filter: RequestFilter): Tested[] {
  const { destination, host, path, method, status, from, to } = filter;
  return [
    addressTest(addressColumn(table, 'destination'), destination),
    textTest(textColumn(table, 'host'), host, (text) => {
      const pattern = tryDomainPattern(text);
      // An address literal is no name, and is compared as it is.
      return typeof pattern === 'string' || parseAddress(text)
        ? (seen) => seen === text
        : (seen) => patternMatches(pattern, seen);
    }),
    textTest(textColumn(table, 'path'), path, (text) => {
      const pattern = tryPathPattern(text);
      return isPathFault(pattern) ? () => false : (seen) => pathMatches(pattern, seen);
    }),
    textTest(textColumn(table, 'method'), method, (text) => (seen) => seen === text.toUpperCase()),
    statusTest(table, status),
    from === undefined && to === undefined ? undefined : timeTest(table, from, to),
  ];
}

/** Each distinct text is looked at once. */
function textTest(
  column: TextColumn | undefined,
  wanted: string | undefined,
  compile: (wanted: string) => (seen: string) => boolean,
): Tested {
  if (wanted === undefined) return undefined;
  // Of a column that is not there nothing is seen of any row.
  if (column === undefined) return wanted === UNSEEN ? undefined : NEVER;
  const byCode = new Uint8Array(textCodes(column));
  if (wanted === UNSEEN) byCode[0] = 1;
  else {
    const matches = compile(wanted);
    for (const [at, text] of column.dictionary.entries()) byCode[at + 1] = matches(text) ? 1 : 0;
  }
  return codeTest(column.codes, byCode);
}

function statusTest(table: ColumnTable, wanted: string | undefined): Tested {
  if (wanted === undefined) return undefined;
  const statuses = numberColumn(table, 'status');
  if (wanted === UNSEEN) return statuses && new UnseenTest(statuses);
  if (statuses === undefined) return NEVER;
  const first = Number(wanted.replace('xx', '00'));
  return new SpanTest(statuses, first, wanted.endsWith('xx') ? first + 100 : first + 1);
}

function timeTest(table: ColumnTable, from = Number.NEGATIVE_INFINITY, to = Number.POSITIVE_INFINITY): Tested {
  const times = numberColumn(table, 'time');
  return times ? new SpanTest(times, from, to) : NEVER;
}

function catalogueTest(table: ColumnTable, catalogue: Catalogue, field: CatalogueField, filter: RequestFilter): Tested {
  const wanted = filter[field];
  if (wanted === undefined) return undefined;
  const outcomes = catalogue.rows(catalogue.facts(table));
  const name = wanted === UNSEEN ? null : wanted;
  const byOutcome = Uint8Array.from(catalogue.outcomes, (_, outcome) =>
    catalogue.names(outcome, field).includes(name) ? 1 : 0,
  );
  return new CodeTest(outcomes, byOutcome);
}
