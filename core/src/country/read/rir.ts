import { type Address, type AddressRange, networkOf, parseAddress } from '../../address/index.js';
import { isCountryCode } from '../code.js';
import { type CountryNetwork, type CountryRowFault, withoutConflicts } from '../networks.js';

/** `2|registry|serial|records|startdate|enddate|UTCoffset`: the version line, the first that is no comment. */
const VERSION_LINE = /^2(?:\.\d+)?\|([a-z]+)\|[^|]*\|\d+\|\d*\|(\d{4})(\d{2})(\d{2})\|/;
const LAST_ADDRESS = 0xffffffff;

/** Whether the text is statistics of a regional internet registry. */
export function isRirStatistics(text: string): boolean {
  return VERSION_LINE.test(firstLine(text));
}

/**
 * Reads delegated or delegated-extended statistics of a regional internet registry (the RIR statistics exchange format,
 * version 2.3). Networks that are allocated or assigned count; those that are available or reserved are in no country.
 * `date` is the day that the statistics are of, YYYY-MM-DD.
 */
export function readRirStatistics(text: string): {
  networks: CountryNetwork[];
  faults: CountryRowFault[];
  date: string;
} {
  const [, , year, month, day] = VERSION_LINE.exec(firstLine(text)) ?? [];
  const rows: CountryNetwork[] = [];
  const faults: CountryRowFault[] = [];
  for (const [index, raw] of text.split(/\r\n|\n|\r/).entries()) {
    const row = readRecord(raw.trim(), index + 1);
    if (row === undefined) continue;
    if ('range' in row) rows.push(row);
    else faults.push(row);
  }
  const kept = withoutConflicts(rows);
  const all = [...faults, ...kept.faults].sort((a, b) => a.line - b.line);
  return { networks: kept.networks, faults: all, date: `${year}-${month}-${day}` };
}

/** `registry|cc|type|start|value|date|status…`; undefined for lines without the country of a network. */
function readRecord(text: string, line: number): CountryNetwork | CountryRowFault | undefined {
  if (text === '' || text.startsWith('#') || VERSION_LINE.test(text) || text.endsWith('|summary')) return undefined;
  const [, code = '', type, start = '', value = '', , status] = text.split('|');
  if (type === 'asn' || status === 'available' || status === 'reserved') return undefined;
  if (status === undefined || (type !== 'ipv4' && type !== 'ipv6'))
    return { line, code: 'columns', detail: text.slice(0, 100) };
  const range = readRange(type, start, value);
  if (range === undefined) return { line, code: 'address', detail: `${start} ${value}` };
  if (!isCountryCode(code)) return { line, code: 'country-code', detail: code };
  return { range, code, line };
}

/** IPv4 rows give the number of addresses, which need not be a network; IPv6 rows give the length of the prefix. */
function readRange(type: 'ipv4' | 'ipv6', start: string, value: string): AddressRange | undefined {
  const first = parseAddress(start);
  const count = /^\d{1,10}$/.test(value) ? Number(value) : 0;
  if (first === undefined || count < 1) return undefined;
  return type === 'ipv4' ? counted(first, count) : network(first, count);
}

function counted(first: Address, count: number): AddressRange | undefined {
  if (first.family !== 4 || first.value + count - 1 > LAST_ADDRESS) return undefined;
  return { first, last: { family: 4, value: first.value + count - 1 } };
}

function network(first: Address, length: number): AddressRange | undefined {
  return first.family === 6 && length <= 128 ? networkOf(first, length) : undefined;
}

function firstLine(text: string): string {
  return /^(?:\uFEFF)?(?:(?:#[^\n]*|[ \t\r]*)\n)*([^\n]*)/.exec(text)?.[1] ?? '';
}
