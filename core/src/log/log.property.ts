import fc from 'fast-check';
import { expect } from 'vitest';
import { tryHost } from '../domain/index.js';
import { urlAsSent } from '../hostile/path.arbitrary.js';
import { normalPath, normalQuery, parseUrl, pathUnder } from '../url/index.js';
import { readJsonLine } from './index.js';

const KEEP = { slashes: 'keep', case: 'keep', parameters: 'keep' } as const;

/** Every absolute URL of a log is read as Node's `URL` reads it; what it refuses is unseen. */
export const urlsAsNode = fc.property(urlAsSent, (url) => {
  const result = readJsonLine(JSON.stringify({ url, method: 'GET' }), new Map());
  if (!('request' in result)) throw new Error(result.fault.code);
  const { scheme, host, port, path, query } = result.request;
  const expected = parseUrl(url);
  const named = expected && tryHost(expected.hostname);
  if (expected === undefined || !named || !('host' in named)) {
    expect({ scheme, host, port, path, query }).toEqual({});
    return;
  }
  expect(`${scheme}: ${host}`).toBe(`${expected.protocol} ${named.host}`);
  expect(port === undefined ? '' : String(port)).toBe(expected.port);
  expect(pathUnder(KEEP, path as string)).toBe(pathUnder(KEEP, normalPath(expected.pathname)));
  expect(normalQuery(query ?? '')).toBe(normalQuery(expected.search.slice(1)));
});
