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
  ['aliases that grow without end', bomb],
  ['a bracket that is left open', 'rule: ['],
])('says why %s cannot be read, and throws nothing', (_, text) => {
  for (const read of [readYaml, readRule, readHead]) expect(read(text)).toEqual({ faults: [expect.any(String)] });
});

it('reads anchors and aliases', () => {
  expect(readYaml('a: &one [1]\nb: *one')).toEqual({ value: { a: [1], b: [1] } });
});
