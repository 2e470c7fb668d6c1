import { makeRequest, type Request } from '../../request/index.js';
import { type LineResult, lineFault } from '../line.js';
import { Memo, readAuthority, readPeer, readTarget, type TargetParts } from './fields.js';

const QUOTED = '"((?:[^"\\\\]|\\\\.)*)"';
/** host? peer ident user [time] "request" status bytes ("referrer" "agent")? */
const LINE = new RegExp(
  `^(?:(\\S+) )?(\\S+) (\\S+) (\\S+) \\[([^\\]]{1,40})\\] ${QUOTED} (\\d{3}|-) (\\d+|-)(?: ${QUOTED} ${QUOTED})?\\s*$`,
);
const TIME = /^(\d\d)\/([A-Z][a-z]{2})\/(\d{4}):(\d\d):(\d\d):(\d\d) ([+-])(\d\d)(\d\d)$/;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const peers = new Memo(readPeer);
const authorities = new Memo(readAuthority);
const targets = new Memo(readTarget);
const hours = new Memo(readHour);

/**
 * Reads one line of the common or combined log format, with an optional host in front, which may have a port. A `-`
 * means that the field was not seen, and for the user, the referrer and the agent that there was none. A request line that is none (as scanners send) leaves method and path unseen.
 */
export function readCombinedLine(line: string): LineResult {
  const found = LINE.exec(line);
  if (!found) return lineFault('not-a-log-line', line);
  const [, hostText, peerText, , user, timeText, requestLine, status, bytes, referrer, agent] = found;
  const peer = peers.get(peerText as string);
  if (peer === 'bad' && peerText !== '-') return lineFault('bad-peer', peerText as string);
  const time = readClock(timeText as string);
  if (time === undefined) return lineFault('bad-time', timeText as string);
  const authority = hostText === undefined || hostText === '-' ? {} : authorities.get(hostText);
  if (authority === 'bad') return lineFault('bad-host', hostText as string);
  const called = readRequestLine(unescaped(requestLine as string));
  return {
    request: makeRequest({
      time,
      peer: peer === 'bad' ? undefined : peer,
      user: seenOrNone(user),
      status: seen(status) === undefined ? undefined : Number(status),
      bytes: seen(bytes) === undefined ? undefined : Number(bytes),
      referrer: seenOrNone(referrer),
      agent: seenOrNone(agent),
      ...called,
      ...authority,
      host: called.scheme || called.method === 'CONNECT' ? (called.host ?? authority.host) : authority.host,
      port: called.port ?? authority.port,
    }),
  };
}

type Called = Partial<Pick<Request, 'method' | 'protocol'>> & TargetParts;

/** `METHOD target PROTOCOL`; a tunnel (`CONNECT host:port`) tells a host and port, and no path. */
function readRequestLine(text: string): Called {
  const found = /^([!#$%&'*+.^_`|~0-9A-Za-z-]{1,32}) (\S+)(?: (HTTP\/[0-9.]{1,4}))?$/.exec(text);
  if (!found) return {};
  const method = (found[1] as string).toUpperCase();
  const target = found[2] as string;
  const base: Called = found[3] === undefined ? { method } : { method, protocol: found[3] };
  const parts = method === 'CONNECT' ? authorities.get(target) : target === '*' ? {} : targets.get(target);
  return parts === 'bad' ? base : { ...base, ...parts };
}

function seen(text: string | undefined): string | undefined {
  return text === undefined || text === '-' || text === '' ? undefined : unescaped(text);
}

/** The format always has these fields, so that a `-` says that the request had none; held as an empty text. */
function seenOrNone(text: string | undefined): string | undefined {
  return text === undefined ? undefined : (seen(text) ?? '');
}

/** Undoes the backslashes that servers put before quotes, backslashes and unprintable bytes. */
function unescaped(text: string): string {
  if (!text.includes('\\')) return text;
  return text.replace(/\\(?:x([0-9a-fA-F]{2})|(.))/g, (_, hex: string | undefined, character: string | undefined) =>
    hex === undefined
      ? (ESCAPES[character as string] ?? (character as string))
      : String.fromCharCode(Number.parseInt(hex, 16)),
  );
}

const ESCAPES: Record<string, string | undefined> = { n: '\n', t: '\t', r: '\r', b: '\b', v: '\v', f: '\f' };

/** Milliseconds of `10/Oct/2026:13:55:36 +0100`. All but minutes and seconds repeat from line to line. */
export function readClock(text: string): number | undefined {
  const hour = hours.get(text.slice(0, 14) + text.slice(20));
  const minutes = Number(text.slice(15, 17));
  const seconds = Number(text.slice(18, 20));
  return TIME.test(text) && hour !== 'bad' && minutes < 60 && seconds <= 60
    ? hour + minutes * 60_000 + seconds * 1000
    : undefined;
}

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
