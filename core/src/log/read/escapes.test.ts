import { expect, it } from 'vitest';
import { unescaped } from './escapes.js';
import { readJsonLine } from './json-lines.js';

it.each([
  ['plain', 'plain'],
  ['a \\"b\\" \\\\ c', 'a "b" \\ c'],
  ['a\\tb\\n', 'a\tb\n'],
  ['\\x22', '"'],
  // Bytes of UTF-8 are one character together; others are one each.
  ['Gr\\xC3\\xBC\\xc3\\x9fe', 'Grüße'],
  ['\\xE9t\\xE9', 'été'],
  ['\\xF0\\x9F\\x8C\\xB1', '🌱'],
  ['\\xEF\\xBB\\xBFx', '\uFEFFx'],
  // The backslash is escaped here, so that no byte follows.
  ['\\\\x41', '\\x41'],
])('%s is %s', (written, text) => {
  expect(unescaped(written)).toBe(text);
});

it.each([
  ['{"agent":"a \\x22b\\x22 \\xC3\\xBC","path":"/"}', 'a "b" ü'],
  ['{"agent":"\\\\x41","path":"/"}', '\\x41'],
  ['{"agent":"\\\\x41 \\x42","path":"/"}', '\\x41 B'],
])('in JSON of servers whose formats were not made for it: %s', (line, agent) => {
  expect(readJsonLine(line, new Map())).toMatchObject({ request: { agent } });
});

it('is no JSON where it is none for other reasons', () => {
  expect(readJsonLine('{"agent":"\\x22', new Map())).toMatchObject({ fault: { code: 'not-json' } });
});
