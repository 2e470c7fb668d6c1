import { withKey } from '@jade-fence/core/edit';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Alternative, readRule, writtenAlternatives } from './rule-value.js';

const WORD = fc.oneof(
  fc.constantFrom(
    '443',
    '8000-8099',
    '0',
    '007',
    '1e3',
    '*',
    '~^a: b#',
    'null',
    'true',
    '- x',
    '[',
    '"',
    "'",
    '2026-11-29',
  ),
  fc.stringMatching(/^[a-z0-9./*-]{1,12}$/),
);
const VALUE = fc.oneof(WORD, fc.record({ not: fc.array(WORD, { minLength: 1, maxLength: 3 }) }));
const ALTERNATIVE = fc.dictionary(
  fc.constantFrom('host', 'path', 'client', 'port', 'header.x-a'),
  fc.array(VALUE, { minLength: 1, maxLength: 3 }),
  {
    minKeys: 1,
  },
);

describe('the form of a rule', () => {
  it('writes conditions that are read back the same, whatever is in them', () => {
    fc.assert(
      fc.property(fc.array(ALTERNATIVE, { minLength: 1, maxLength: 3 }), (alternatives) => {
        const text = withKey('rule: a\nthen: block\n', 'when', writtenAlternatives(alternatives as Alternative[]));
        expect(readRule(text)).toMatchObject({ rule: 'a', when: alternatives.map((each) => ({ ...each })) });
      }),
      { numRuns: 500 },
    );
  });

  it('has what is usual where nothing is written', () => {
    expect(readRule('rule: a\nthen: block\n')).toEqual({
      ...{ rule: 'a', note: '', stance: 'enforce', record: 'log', ifBlind: 'no-match', when: [], unless: [] },
      ...{ limit: undefined, then: 'block' },
    });
    expect(writtenAlternatives([])).toBeUndefined();
  });

  it.each([
    ['when: {host: a.example}', [{ host: ['a.example'] }]],
    ['when: {host: a.example, port: 443}', [{ host: ['a.example'], port: ['443'] }]],
    ['when: [{host: a.example}, {path: [/x, /y]}]', [{ host: ['a.example'] }, { path: ['/x', '/y'] }]],
    ['when: {country: {not: PT}}', [{ country: [{ not: ['PT'] }] }]],
    ['when: {country: [ES, {not: [PT]}]}', [{ country: ['ES', { not: ['PT'] }] }]],
    ['when: nothing', []],
    ['when: null', []],
  ])('reads %s', (text, when) => {
    expect(readRule(`rule: a\n${text}\nthen: block\n`)).toMatchObject({ when });
  });

  it.each([
    ['rule: [a', 1],
    ['- rule: a', 1],
    ['just a text', 1],
    ['', 1],
    ['rule: a\n\tthen: block', 1],
  ])('says that %j cannot be read', (text, least) => {
    const read = readRule(text);
    expect('faults' in read && read.faults.length).toBeGreaterThanOrEqual(least);
  });
});
