import { expect, it } from 'vitest';
import { placeAt } from './key-path.js';

/** The place of the sign ‸ in a text. */
const at = (text: string) => {
  const offset = text.indexOf('‸');
  return placeAt(text.slice(0, offset) + text.slice(offset + 1), offset);
};

it.each<[string, string, string[], 'key' | 'value', string]>([
  ['a key of the document', 'pol‸', [], 'key', 'pol'],
  ['a key below others', 'policy: a\ndefa‸', [], 'key', 'defa'],
  ['a value behind its key', 'policy: a\ndefault: al‸', ['default'], 'value', 'al'],
  ['a key of a rule', 'rules:\n  - rule: a\n    st‸', ['rules'], 'key', 'st'],
  ['the first key of an item', 'rules:\n  - ru‸', ['rules'], 'key', 'ru'],
  ['the first key of an item with no indentation', 'rules:\n- rule: a\n- ru‸', ['rules'], 'key', 'ru'],
  ['a value of a rule', 'rules:\n  - rule: a\n    stance: ob‸', ['rules', 'stance'], 'value', 'ob'],
  ['a key in braces', 'rules:\n  - rule: a\n    when: {cou‸', ['rules', 'when'], 'key', 'cou'],
  ['a second key in braces', 'rule: a\nwhen: {country: [PT], ho‸', ['when'], 'key', 'ho'],
  ['a value in brackets', 'rule: a\nwhen: {country: [PT, E‸', ['when', 'country'], 'value', 'E'],
  ['a value behind a key in braces', 'rule: a\nthen: {block: {notice: n‸', ['then', 'block', 'notice'], 'value', 'n'],
  ['a key of a block map', 'rule: a\nwhen:\n  cou‸', ['when'], 'key', 'cou'],
  [
    'an item of a block list of values',
    'rule: a\nwhen:\n  country:\n    - PT\n    - E‸',
    ['when', 'country'],
    'value',
    'E',
  ],
  ['behind what was closed', 'rule: a\nwhen: {country: [PT]}\nth‸', [], 'key', 'th'],
  ['behind a document', 'list: a\nentries:\n  - x\n---\npol‸', [], 'key', 'pol'],
  ['behind comments and blank lines', 'rules:\n  # one\n\n  - rule: a\n    # two\n    th‸', ['rules'], 'key', 'th'],
  ['beside keys that are no words of JavaScript', '__proto__:\n  con‸', ['__proto__'], 'key', 'con'],
])('%s', (_, text, path, kind, word) => {
  expect(at(text)).toEqual({ path, at: kind, word });
});
