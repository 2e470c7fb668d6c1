import { makeRequest, type Request } from '../../request/index.js';
import { digitsAt } from '../../text/time.js';
import { type FieldFault, type LineFaultCode, type LineResult, lineFault } from '../line.js';
import { unescaped } from './escapes.js';
import { Memo, readAuthority, readPeer, readTarget, type TargetParts } from './fields.js';

const QUOTED = '"((?:[^"\\\\]|\\\\.)*)"';
/** who [time] "request" status bytes ("referrer" "agent")? */
const LINE = new RegExp(
  `^(\\S[^[]*?) \\[([^\\]]{1,40})\\] ${QUOTED} (\\d{3}|-) (\\d+|-)(?: ${QUOTED} ${QUOTED})?\\s*$`,
);
const TIME = /^(\d\d)\/([A-Z][a-z]{2})\/(\d{4}):(\d\d):(\d\d):(\d\d) ([+-])(\d\d)(\d\d)$/;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const peers = new Memo(readPeer);
const authorities = new Memo(readAuthority);
const targets = new Memo(readTarget);
const hours = new Memo(readHour);
const requestLines = new Memo(readRequestLine);

/**
 * Reads one line of the common or combined log format, with an optional host in front, which may have a port. A `-`
 * means that the field was not seen, and for the user, the referrer and the agent that there was none. A field that
 * cannot be read is unseen, and among the faults; a request line that is none leaves method and path unseen.
 */
export function readCombinedLine(line: string): LineResult {
  const found = LINE.exec(line);
  const who = found && whoOf((found[1] as string).split(' '));
  if (!found || !who) return lineFault('not-a-log-line', line);
  const [, , timeText, requestLine, status, bytes, referrer, agent] = found;
  const faults: FieldFault[] = [];
  const fault = (field: string, code: LineFaultCode, text: string) => {
    faults.push({ ...lineFault(code, text).fault, field });
  };
  const peer = peers.get(who.peer);
  if (peer === 'bad' && who.peer !== '-') fault('peer', 'bad-peer', who.peer);
  const time = readClock(timeText as string);
  if (time === undefined) fault('time', 'bad-time', timeText as string);
  const read = who.host === undefined || who.host === '-' ? {} : authorities.get(who.host);
  if (read === 'bad') fault('host', 'bad-host', who.host as string);
  const authority = read === 'bad' ? {} : read;
  const called = requestLines.get(unescaped(requestLine as string));
  const isWhole = called.scheme !== undefined || called.method === 'CONNECT';
  const request = makeRequest({
    time,
    peer: peer === 'bad' ? undefined : peer,
    method: called.method,
    scheme: called.scheme,
    host: isWhole ? (called.host ?? authority.host) : authority.host,
    port: called.port ?? authority.port,
    path: called.path,
    query: called.query,
    protocol: called.protocol,
    user: seenOrNone(who.user),
    agent: seenOrNone(agent),
    referrer: seenOrNone(referrer),
    status: numberOf(status),
    bytes: numberOf(bytes),
  });
  return faults.length === 0 ? { request } : { request, faults };
}

interface Who {
  readonly host?: string | undefined;
  readonly peer: string;
  readonly user: string;
}

/**
 * `host? peer ident user`, where the user may hold blanks. The peer is the second word where that is an address, or
 * where the first is none and there are four; else the first.
 */
function whoOf(words: readonly string[]): Who | undefined {
  const [first, second] = words as [string, string];
  if (words.length < 3 || words.includes('')) return undefined;
  const isHostFirst = words.length > 3 && (isAddress(second) || (words.length === 4 && !isAddress(first)));
  const [host, peer, ...others] = isHostFirst ? words : [undefined, ...words];
  return { host, peer: peer as string, user: userOf(others.slice(1).join(' ')) };
}

const isAddress = (text: string): boolean => peers.get(text) !== 'bad';

/** Anonymous is the user that is none, in any case of letters. */
const userOf = (text: string): string => (/^anonymous$/i.test(text) ? '-' : text);

type Called = Partial<Pick<Request, 'method' | 'protocol'>> & TargetParts;

/** `METHOD target PROTOCOL`; a tunnel (`CONNECT host:port`) has a host and port, and no path. */
function readRequestLine(text: string): Called {
  const found = /^([!#$%&'*+.^_`|~0-9A-Za-z-]{1,32}) (\S+)(?: (HTTP\/[0-9.]{1,4}))?$/.exec(text);
  if (!found) return {};
  const method = (found[1] as string).toUpperCase();
  const target = found[2] as string;
  const base: Called = found[3] === undefined ? { method } : { method, protocol: found[3] };
  const parts = method === 'CONNECT' ? authorities.get(target) : target === '*' ? {} : targets.get(target);
  return parts === 'bad' ? base : { ...base, ...parts };
}

const numberOf = (text: string | undefined): number | undefined =>
  text === undefined || text === '-' ? undefined : Number(text);

/** The format always has these fields, so that a `-` says that the request had none; held as an empty text. */
function seenOrNone(text: string | undefined): string | undefined {
  return text === '-' ? '' : text && unescaped(text);
}

/** The hour that was read last: most lines have the same. */
const last = { day: 'none', zone: '', start: 0 };

/** Milliseconds of `10/Oct/2026:13:55:36 +0100`. All but minutes and seconds repeat from line to line. */
export function readClock(text: string): number | undefined {
  if (text.length !== 26 || text.charCodeAt(14) !== COLON || text.charCodeAt(17) !== COLON) return undefined;
  const [minutes, seconds] = [digitsAt(text, 15, 2), digitsAt(text, 18, 2)];
  if (minutes < 0 || minutes > 59 || seconds < 0 || seconds > 60) return undefined;
  if (!text.startsWith(last.day) || !text.endsWith(last.zone)) {
    const [day, zone] = [text.slice(0, 14), text.slice(20)];
    const start = hours.get(day + zone);
    if (start === 'bad') return undefined;
    Object.assign(last, { day, zone, start });
  }
  return last.start + minutes * 60_000 + seconds * 1000;
}

const COLON = 58;

function readHour(text: string): number | 'bad' {
  const found = TIME.exec(`${text.slice(0, 14)}:00:00${text.slice(14)}`);
  if (!found) return 'bad';
  const [, day, month, year, hour, , , sign, zoneHours, zoneMinutes] = found as unknown as string[];
  const monthIndex = MONTHS.indexOf(month as string);
  const start = Date.UTC(Number(year), monthIndex, Number(day), Number(hour));
  if (monthIndex < 0 || Number(hour) > 23 || new Date(start).getUTCDate() !== Number(day)) return 'bad';
  const offset = (Number(zoneHours) * 60 + Number(zoneMinutes)) * 60_000;
  return sign === '-' ? start + offset : start - offset;
}
