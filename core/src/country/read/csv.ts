import { type AddressRange, isRangeFault, tryRange } from '../../address/index.js';
import { isCountryCode } from '../code.js';
import { type CountryNetwork, type CountryRowFault, withoutConflicts } from '../networks.js';

const LONGEST_ROW = 1000;
const HEADER_WORDS = /^(?:start|first|from|begin|cidr|network|prefix|range|ip|ip_start|start_ip)/i;

/**
 * Reads country data from CSV rows `start,end,CODE` or `CIDR,CODE`, in any mixture (RFC 4180; `#` starts a comment;
 * a header row is passed over). Start and end may be decimal numbers: both below 2^32 are IPv4, others IPv6. Rows that do not hold are faults and never stop the reading.
 */
export function readCountryCsv(text: string): { networks: CountryNetwork[]; faults: CountryRowFault[] } {
  const rows: CountryNetwork[] = [];
  const faults: CountryRowFault[] = [];
  let [line, isFirst] = [0, true];
  for (const raw of text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)) {
    line++;
    const trimmed = raw.trim();
    if (trimmed === '' || trimmed.startsWith('#')) continue;
    const mayBeHeader = isFirst;
    isFirst = false;
    if (mayBeHeader && HEADER_WORDS.test(trimmed.replaceAll('"', ''))) continue;
    const row = readRow(trimmed, line);
    if ('range' in row) rows.push(row);
    else faults.push(row);
  }
  const kept = withoutConflicts(rows);
  return { networks: kept.networks, faults: [...faults, ...kept.faults].sort((a, b) => a.line - b.line) };
}

function readRow(text: string, line: number): CountryNetwork | CountryRowFault {
  if (text.length > LONGEST_ROW) return { line, code: 'too-long', detail: `${text.slice(0, 40)}…` };
  const cells = text.split(',').map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
  if (cells.length !== 2 && cells.length !== 3) return { line, code: 'columns', detail: text };
  const code = (cells.at(-1) as string).toUpperCase();
  const networkText = cells.length === 2 ? (cells[0] as string) : `${cells[0]}-${cells[1]}`;
  const range = tryRange(cells.length === 3 ? (fromNumbers(cells) ?? networkText) : networkText);
  if (isRangeFault(range))
    return { line, code: range.reason === 'reversed' ? 'range' : 'address', detail: networkText };
  if (!isCountryCode(code)) return { line, code: 'country-code', detail: code };
  return { range: range satisfies AddressRange, code, line };
}

const DECIMAL = /^\d{1,39}$/;
const FOUR = 1n << 32n;
const SIX = 1n << 128n;

/** The range between two decimal numbers, as text; undefined when they are invalid. */
function fromNumbers([start = '', end = '']: readonly string[]): string | undefined {
  if (!DECIMAL.test(start) || !DECIMAL.test(end)) return undefined;
  const [first, last] = [BigInt(start), BigInt(end)];
  if (first >= SIX || last >= SIX) return undefined;
  const write = first < FOUR && last < FOUR ? writtenFour : writtenSix;
  return `${write(first)}-${write(last)}`;
}

const partsOf = (value: bigint, count: number, bits: bigint): bigint[] =>
  Array.from({ length: count }, (_, at) => (value >> (BigInt(count - 1 - at) * bits)) & ((1n << bits) - 1n));

const writtenFour = (value: bigint): string => partsOf(value, 4, 8n).join('.');
const writtenSix = (value: bigint): string =>
  partsOf(value, 8, 16n)
    .map((part) => part.toString(16))
    .join(':');
