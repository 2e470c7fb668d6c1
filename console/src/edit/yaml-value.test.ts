import { expect, it } from 'vitest';
import { readHead } from './policy-head.js';
import { readRule } from './rule-value.js';
import { readYaml } from './yaml-value.js';

const bomb = [
  'a: &a [x, x, x, x, x, x, x, x, x]',
  ...'bcdefgh'.split('').map((at, index) => `${at}: &${at} [${Array(9).fill(`*${'abcdefg'[index]}`).join(', ')}]`),
].join('\n');

it.each([
  ['an alias of nothing', 'rule: *nothing'],
  ['an alias', 'rule: &one [1]\nnote: *one'],
  ['aliases that grow without end', bomb],
  ['a bracket that is left open', 'rule: ['],
])('says why %s cannot be read, and throws nothing', (_, text) => {
  for (const read of [readYaml, readRule, readHead])
    expect(read(text)).toEqual({ faults: expect.arrayContaining([expect.any(String)]) });
});

it('reads what is written out, and words that only look like an alias', () => {
  expect(readYaml('a: [1]\nb: "*a"')).toEqual({ value: { a: [1], b: '*a' } });
});
