import type { Entry } from './entry.js';

/** Writes an entry as a line, without its newline. */
export type LineFormat = (entry: Entry) => string;

export const LINE_FORMATS = { 'json-lines': jsonLine, combined: combinedLine } as const satisfies Record<
  string,
  LineFormat
>;
export type LineFormatName = keyof typeof LINE_FORMATS;

function jsonLine(entry: Entry): string {
  return JSON.stringify({
    time: new Date(entry.time).toISOString(),
    peer: entry.peer,
    'forwarded-for': entry.forwardedFor,
    method: entry.method,
    scheme: entry.scheme,
    host: entry.host,
    destination: entry.destination,
    port: entry.port,
    path: entry.path,
    status: entry.status,
    bytes: entry.bytes,
    agent: entry.agent,
  });
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** The combined log format with the host in front. It has no forwarding headers, so the client is the peer. */
function combinedLine(entry: Entry): string {
  const target = entry.method === 'CONNECT' ? `${entry.host}:${entry.port}` : entry.path;
  const client = entry.forwardedFor ?? entry.peer;
  const call = `${entry.method} ${target} HTTP/1.1`;
  return `${entry.host} ${client} - - [${clock(entry.time)}] "${call}" ${entry.status} ${entry.bytes} "-" "${entry.agent ?? '-'}"`;
}

function clock(time: number): string {
  const at = new Date(time);
  const two = (value: number) => String(value).padStart(2, '0');
  const day = `${two(at.getUTCDate())}/${MONTHS[at.getUTCMonth()]}/${at.getUTCFullYear()}`;
  return `${day}:${two(at.getUTCHours())}:${two(at.getUTCMinutes())}:${two(at.getUTCSeconds())} +0000`;
}
