import { expect, it } from 'vitest';
import { shapeOf } from './shape.js';

it.each([
  ['{"a":{"b/c":1,"d":[2]},"e":null}\n', { type: 'json', places: ['/a', '/a/b~1c', '/a/d', '/e'] }],
  ['{"a":', { type: 'json', places: [] }],
  ['When;Client;"Real client"\n1;2;3\n', { type: 'table', places: ['When', 'Client', 'Real client'] }],
  [
    '\n2026-11-09 08:00:00,250 192.0.2.7, x, "GET / HTTP/1.1" 200 \nmore\n',
    { type: 'text', example: '2026-11-09 08:00:00,250 192.0.2.7, x, "GET / HTTP/1.1" 200' },
  ],
  ['\u001f\u008b', { type: 'packed' }],
  ['#Version: 1.0\n', undefined],
  ['{"log": {"version": "1.2"', undefined],
  ['', undefined],
])('of %j is %j', (start, shape) => {
  expect(shapeOf(start)).toEqual(shape);
});
