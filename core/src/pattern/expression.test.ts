import fc from 'fast-check';
import { RE2JS } from 're2js';
import { describe, expect, it } from 'vitest';
import { type Expression, expressionMatches, tryExpression } from './expression.js';

const compiled = (source: string): Expression => {
  const expression = tryExpression(source);
  if ('detail' in expression) throw new Error(expression.detail);
  return expression;
};

describe('an expression', () => {
  it.each([
    ['^/item-[0-9]*7$', '/item-', '7'],
    ['back\\.zip$', 'back.zip', 'back.zip'],
    ['^/a?b$', '/', 'b'],
    ['\\d7$', '', ''],
    ['\\x417$', '', ''],
    ['\\\\.7$', '', ''],
    ['[a-z]{2}/end$', '', '/end'],
    ['a|b$', '', ''],
    ['price\\$', 'price', ''],
    ['(?i)end$', '', ''],
  ])('of %s is looked for only where a text has %j and ends with %j', (source, needs, ends) => {
    expect(compiled(source)).toMatchObject({ needs, ends });
  });

  const piece = fc.constantFrom(
    ...[
      'a',
      'b',
      '7',
      '/',
      '-',
      '.',
      '\\.',
      '\\d',
      '\\x61',
      '\\x{62}',
      '\\\\',
      '[ab]',
      '[^a]',
      '(ab)',
      'a?',
      'b*',
      '7+',
      '/{2}',
    ],
    ...['\\Qa.\\E', '\\pL', '|', '(?i)', '$', '^'],
  );
  const source = fc
    .tuple(fc.boolean(), fc.array(piece, { maxLength: 5 }), fc.boolean())
    .map(([start, pieces, end]) => `${start ? '^' : ''}${pieces.join('')}${end ? '$' : ''}`)
    .filter((text) => !('detail' in tryExpression(text)));
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'A', '7', '/', '-', '.', '\\', '$'), maxLength: 8 });

  it('matches what it matches when nothing is known of it beforehand', () => {
    fc.assert(
      fc.property(source, fc.array(text, { minLength: 10, maxLength: 20 }), (each, texts) => {
        const found = texts.map((one) => expressionMatches(compiled(each), one));
        expect(found).toEqual(texts.map((one) => RE2JS.compile(each).matcher(one).find()));
      }),
      { numRuns: 1000 },
    );
  });
});
