import { expect, it } from 'vitest';
import { linesWithoutHeader, requestOf, type Typed } from './request-of.js';

const NOTHING: Typed = {
  ...{ client: '', url: 'tickets.fennelhill.example/', method: 'GET', agent: '', user: '', groups: '' },
  ...{ time: '', destination: '', forwarded: '', headers: '' },
};

it.each<[string, Partial<Typed>, object]>([
  ['nothing but where to', {}, { method: 'GET', url: 'https://tickets.fennelhill.example/' }],
  ['a tunnel', { url: 'odds.meadowbet.example:443' }, { method: 'CONNECT', host: 'odds.meadowbet.example', port: 443 }],
  ['groups', { groups: 'curators, ,trustees' }, { groups: ['curators', 'trustees'] }],
  ['forwarded addresses', { forwarded: ' 198.18.97.3, 10.10.1.4 ' }, { 'forwarded-for': '198.18.97.3, 10.10.1.4' }],
  [
    'headers, one of them twice',
    { headers: 'X-Desk: 4\n\nx-desk:5\nAccept-Language: pt' },
    { 'some-headers': { 'x-desk': ['4', '5'], 'accept-language': ['pt'] } },
  ],
  ['names that mean something to JavaScript', { headers: '__proto__: x' }, {}],
])('%s', (_, typed, fields) => {
  expect(requestOf({ ...NOTHING, ...typed })).toMatchObject(fields);
});

it('leaves out what is not given', () => {
  expect(Object.keys(requestOf(NOTHING))).toEqual(['method', 'url']);
});

it('says which lines are no headers', () => {
  expect(linesWithoutHeader('X-Desk: 4\nnonsense\n\n: x')).toEqual(['nonsense', ': x']);
});
