import { parseTime } from '../../text/index.js';
import type { Gather } from './gather.js';
import { linesOf } from './lines.js';

const HEADER_WORDS = /^"?(?:host|hostname|name|domain)"?\s*,/i;
const MOST_SECONDS = 2_147_483_647;

/**
 * Reads rows `host,addresses[,seen[,holds]]` (RFC 4180; `#` starts a comment; a header row is passed over): one address
 * or several with blanks between, none for a host that is known to have none; a time of RFC 3339; and for how many
 * seconds it holds. Several rows of a host add up.
 */
export function readResolutionCsv(text: string, gather: Gather): undefined {
  let isFirst = true;
  for (const { line, text: row } of linesOf(text, gather)) {
    if (row.startsWith('#')) continue;
    const mayBeHeader = isFirst;
    isFirst = false;
    if (mayBeHeader && HEADER_WORDS.test(row)) continue;
    readRow(row, line, gather);
  }
}

function readRow(row: string, line: number, gather: Gather): undefined {
  const cells = row.split(',').map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
  if (cells.length < 2 || cells.length > 4) return gather.fault(line, 'columns', row);
  const [name = '', addresses = '', time = '', span = ''] = cells;
  const host = gather.host(name, line);
  if (host === undefined) return;
  const seen = time === '' ? undefined : parseTime(time);
  if (time !== '' && seen === undefined) return gather.fault(line, 'time', time);
  const holds = span === '' ? undefined : Number(span);
  if (holds !== undefined && !(/^\d+$/.test(span) && holds <= MOST_SECONDS)) return gather.fault(line, 'holds', span);
  const texts = addresses.split(/\s+/).filter((each) => each !== '');
  if (texts.length === 0) gather.add(host, undefined, line, { seen, holds });
  for (const text of texts) {
    const address = gather.address(text, line);
    if (address) gather.add(host, address, line, { seen, holds });
  }
}
