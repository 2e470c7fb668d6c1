import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { expect, it } from 'vitest';
import { LogReader } from './reader.js';

const LINES = 1500;
/** A line is read up to 64 KiB. */
const LONG = 'a'.repeat(60_000);
const MEBIBYTE = 2 ** 20;

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;
function heap(): number {
  collect();
  collect();
  return process.memoryUsage().heapUsed / MEBIBYTE;
}

const path = (at: number) => `/whats-on/of-the-botanic-garden/${at}-of-many-pages`;
const host = (at: number) => `a-long-name-of-a-host-${at}.fennelhill.example`;
const peer = (at: number) => `2001:db8:1234:5678::${at.toString(16)}`;

const FORMATS: Readonly<Record<string, { readonly head: string; readonly line: (at: number) => string }>> = {
  'json-lines': {
    head: '',
    line: (at) => JSON.stringify({ peer: peer(at), host: host(at), path: path(at), agent: LONG }),
  },
  combined: {
    head: '',
    line: (at) =>
      `${host(at)} ${peer(at)} - - [12/Nov/2026:09:00:00 +0000] "GET ${path(at)} HTTP/1.1" 200 12 "-" "${LONG}"`,
  },
  w3c: {
    head: '#Version: 1.0\n#Fields: date time c-ip cs-host cs-method cs-uri-stem cs(User-Agent)\n',
    line: (at) => `2026-11-12 09:00:00 ${peer(at)} ${host(at)} GET ${path(at)} ${LONG}`,
  },
  csv: { head: 'peer,host,path,agent\n', line: (at) => `${peer(at)},${host(at)},${path(at)},${LONG}` },
};

it.each(Object.keys(FORMATS))('of %s nothing of a line stays in memory but its remembered values', (format) => {
  const { head, line } = FORMATS[format] as (typeof FORMATS)[string];
  let read = 0;
  const reader = new LogReader({
    request: () => {
      read++;
    },
    rejected: (number, fault) => expect.unreachable(`line ${number}: ${fault.code}`),
  });
  const encoder = new TextEncoder();
  reader.push(encoder.encode(`${head}${line(0)}\n`));
  const before = heap();
  for (let at = 1; at < LINES; at++) reader.push(encoder.encode(`${line(at)}\n`));
  reader.end();
  expect(read).toBe(LINES);
  // All lines are 86 MiB.
  expect(heap() - before).toBeLessThan(12);
});
