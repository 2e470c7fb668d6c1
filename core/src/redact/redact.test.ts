import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodeTable } from '../column/index.js';
import { ChunkBuilder, ChunkRows } from '../log/index.js';
import { makeRequest } from '../request/index.js';
import { NO_REDACTION, type Redaction, redactedByAny, tryRedaction } from './redaction.js';
import { Redactor } from './redactor.js';
import { isStorable, withoutRedacted } from './stored.js';

const pseudonym = (kind: string, value: string) => `${kind}-${[...value].map((each) => each.charCodeAt(0)).join('')}`;
const redaction = (...words: string[]): Redaction =>
  redactedByAny(words.map((word) => tryRedaction(word) as Redaction));
const redactor = (...words: string[]) => new Redactor(redaction(...words), pseudonym);

const shown = {
  number: 3,
  client: '198.18.5.194',
  request: {
    peer: '10.10.1.4',
    host: 'tickets.fennelhill.example',
    path: '/book',
    query: 'token=s3cret&day=sat',
    user: 'a.hazel',
    agent: 'gardenapp/2.3',
    referrer: 'https://a.example/x?token=old%20one',
    headers: { 'x-forwarded-for': '198.18.5.194, 2001:db8::7', cookie: 'session=abc' },
  },
  explanation: { text: 'a.hazel from 198.18.5.194 is in list:offices', address: '198.18.5.194' },
};

describe('what is shown', () => {
  it('has a pseudonym of a client wherever the client occurs, and keeps it recognisable', () => {
    const listed = redactor('client').shown(shown);
    expect(JSON.stringify(listed)).not.toMatch(/198\.18|10\.10\.1\.4|2001:db8/);
    expect(listed.client).toBe(listed.explanation.address);
    expect(listed.explanation.text).toBe(`a.hazel from ${listed.client} is in list:offices`);
    expect(listed.request.host).toBe(shown.request.host);
    expect(redactor('client').client('198.18.5.194')).toBe(listed.client);
  });

  it('does not show the network of the client’s country, where the whole address is redacted', () => {
    const explained = {
      ...shown,
      explanation: { country: { network: '198.18.0.0/20', text: 'the data says so of 198.18.0.0/20' } },
    };
    expect(JSON.stringify(redactor('client').shown(explained))).not.toContain('198.18.');
    expect(JSON.stringify(redactor('client/24').shown(explained))).toContain('198.18.0.0/20');
  });

  it('shows no key of a limit that would reveal the client', () => {
    const limit = { per: ['client/24', 'user', 'method'], key: ['198.18.5.0/24', 'a.hazel', 'POST'], text: '' };
    const rules = [{ limit: { ...limit, text: 'of client/24 198.18.5.0/24, user a.hazel and method POST' } }];
    const explained = { ...shown, explanation: { rules: [...rules, { limit: null }] } };
    const text = JSON.stringify(redactor('client', 'user').shown(explained));
    expect(text).not.toMatch(/198\.18\.5|hazel/);
    expect(text).toContain('method POST');
    expect(JSON.stringify(redactor('client/24').shown(explained))).toContain('client/24 198.18.5.0/24');
  });

  it('shows the network where a prefix is requested; of IPv6 the site', () => {
    const listed = redactor('client/24').shown(shown);
    expect(listed.client).toMatch(/^client-\d+ in 198\.18\.5\.0\/24$/);
    expect(listed.request.headers['x-forwarded-for']).toMatch(/ in 2001:db8::\/64$/);
  });

  it('has pseudonyms of users, of headers by name, and of parameters by name', () => {
    expect(redactor('user').shown(shown)).toMatchObject({
      request: { user: expect.stringMatching(/^user-/) },
      explanation: { text: expect.not.stringContaining('hazel') },
    });
    const { request } = redactor('header.cookie', 'header.user-agent').shown(shown);
    expect([request.headers.cookie, request.agent]).toEqual([
      expect.stringMatching(/^header-/),
      expect.stringMatching(/^header-/),
    ]);
    expect(request.headers['x-forwarded-for']).toBe(shown.request.headers['x-forwarded-for']);
    const queried = redactor('query.token').shown(shown).request;
    expect(queried.query).toMatch(/^token=query-\d+&day=sat$/);
    expect(queried.referrer).not.toContain('old%20one');
    expect(redactor('query').shown(shown).request.query).toMatch(/^token=query-\d+&day=query-\d+$/);
  });

  it('leaves values that mean «none» as they are', () => {
    const none = { client: null, request: { user: 'anonymous', agent: 'absent' } };
    expect(redactor('client', 'user', 'header', 'query').shown(none)).toEqual(none);
  });

  it('shows keys of limits as pseudonyms too', () => {
    const key = (word: string, per: string, ...parts: string[]) => redactor(word).key(per.split(' '), parts).join(' ');
    expect(key('client', 'client method', '198.18.5.194', 'POST')).toMatch(/^client-\d+ POST$/);
    for (const network of ['198.18.5.194/32', '198.18.5.0/24', '2001:db8::/64'])
      expect(key('client', 'client/24', network)).toMatch(/^client-\d+$/);
    expect(key('client/24', 'client/24', '198.18.5.0/24')).toBe('198.18.5.0/24');
    expect(key('client/24', 'client/25', '198.18.5.0/25')).toMatch(/^client-\d+$/);
    expect(key('client', 'header.x-forwarded-for', '10.0.0.1, 198.18.5.194')).toMatch(/^key-\d+$/);
    expect(key('user', 'user method', 'a.hazel', 'POST')).toMatch(/^key-\d+ POST$/);
    expect(key('query.token', 'query.token query.day url', 'secret', 'sat', 'a.example/?token=secret')).toMatch(
      /^key-\d+ sat key-\d+$/,
    );
    expect(key('header.cookie', 'cookie.session', 'abc')).toMatch(/^key-\d+$/);
    expect(redactor('user').key([], [])).toEqual([]);
  });

  it('never has a value that is redacted', () => {
    const value = fc.stringMatching(/^[a-z0-9._-]{1,12}$/);
    fc.assert(
      fc.property(fc.ipV4(), fc.ipV6(), value, value, value, (four, six, user, cookie, token) => {
        const given = {
          client: four,
          request: {
            peer: six,
            user: `u-${user}`,
            query: `a=1&token=t-${token}`,
            headers: { cookie: `c-${cookie}`, forwarded: `for="[${six}]:80", for=${four}:443` },
          },
          text: [`u-${user} (${four}) via ${six}.`, `c-${cookie}; t-${token}`],
        };
        const text = JSON.stringify(
          new Redactor(redaction('client', 'user', 'header.cookie', 'query.token'), (kind) => `${kind}#`).shown(given),
        );
        for (const secret of [four, six, `u-${user}`, `c-${cookie}`, `t-${token}`])
          expect(text.split(/[^\w.:-]+/), secret).not.toContain(secret);
      }),
    );
  });
});

describe('a redaction', () => {
  it('is described in words', () => {
    expect(tryRedaction('client/24')).toEqual({ ...NO_REDACTION, client: 24 });
    expect(tryRedaction('header.Cookie')).toEqual({ ...NO_REDACTION, headers: ['cookie'] });
    for (const word of ['', 'clients', 'client/', 'client/32', 'client/7', 'header.', 'header.a b', 'query.', 'path'])
      expect(tryRedaction(word), word).toBeUndefined();
  });

  it('takes the strongest of several', () => {
    expect(redaction('client/24', 'client/16').client).toBe(16);
    expect(redaction('client/24', 'client').client).toBe('whole');
    expect(redaction('header.cookie', 'header').headers).toBe('all');
    expect(redaction('query.a', 'query.b', 'query.a').query).toEqual(['a', 'b']);
  });
});

describe('what is stored', () => {
  const builder = new ChunkBuilder();
  builder.add(
    makeRequest({
      peer: { family: 4, value: 1 },
      user: 'a.hazel',
      agent: 'x',
      host: 'a.example',
      headers: new Map([
        ['cookie', ['c']],
        ['x-forwarded-for', ['10.0.0.1']],
        ['x-b', ['b']],
      ]),
      allHeaders: true,
    }),
    1,
  );
  const table = builder.build();
  const stored = (...words: string[]) => new ChunkRows(withoutRedacted(table, redaction(...words))).request(0);

  it('leaves out what is redacted, so that it is unseen, and nothing is known to be absent', () => {
    expect(stored('client')).toMatchObject({ peer: undefined, user: 'a.hazel', host: 'a.example', allHeaders: false });
    expect([...stored('client').headers.keys()]).toEqual(['cookie', 'x-b']);
    expect(stored('user')).toMatchObject({ user: undefined, allHeaders: true });
    expect([...stored('header.cookie').headers.keys()]).toEqual(['x-forwarded-for', 'x-b']);
    expect(stored('header')).toMatchObject({ agent: undefined, headers: new Map() });
    expect(encodeTable(withoutRedacted(table, NO_REDACTION))).toEqual(encodeTable(table));
  });

  it('cannot leave out a part of a value', () => {
    expect(['client', 'user', 'header', 'header.a'].every((word) => isStorable(redaction(word)))).toBe(true);
    expect(['client/24', 'query', 'query.a'].some((word) => isStorable(redaction(word)))).toBe(false);
  });
});
