import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { withMoved } from './policy-text.js';
import { joined, rulesIn } from './rule-slices.js';

const rule = fc
  .record({
    name: fc.stringMatching(/^[a-z]{1,6}$/),
    above: fc.constantFrom('', '  # a comment\n', '\n', '  # one\n  # two\n', '# far left\n', '\n    # deep\n'),
    body: fc.constantFrom(
      '    then: block\n',
      '    when: {host: [a.example, \n      b.example]}\n    then: block\n',
      '    when:\n      - host: a.example\n      - path: /x\n    then: allow\n',
      '    note: "over\n      two - lines"\n    then: block\n',
      '    then: block # why\n\n',
      '    note: |\n      - kept\n\n    then: block\n',
      '',
    ),
  })
  .map(({ name, above, body }) => `${above}  - rule: ${name}\n${body}`);
const policy = fc
  .record({
    head: fc.constantFrom('policy: a\n', '# head\npolicy: a\ncovers: {hosts: [a.example]}\n'),
    rules: fc.array(rule, { minLength: 1, maxLength: 6 }),
    tail: fc.constantFrom('', 'default: allow\n', '# behind\ndefault: block\n', '---\nlist: b\nof: domains\n'),
    indented: fc.boolean(),
  })
  .map(({ head, rules, tail, indented }) => {
    const text = rules.join('');
    return `${head}rules:\n${indented ? text : text.replace(/^ {2}/gm, '')}${tail}`;
  });

const first = (text: string) => parse(text.split(/^---$/m)[0] as string) as { rules: unknown[] };

describe('the slices of a policy', () => {
  it('are its text', () => {
    fc.assert(
      fc.property(policy, (text) => {
        const slices = rulesIn(text);
        if (slices) expect(joined(slices)).toBe(text);
      }),
    );
  });

  it('are the rules that YAML reads, and a moved one is moved as YAML would', () => {
    let cut = 0;
    fc.assert(
      fc.property(policy, fc.nat(5), fc.nat(5), (text, from, to) => {
        if (text.includes('---')) return;
        const { rules, ...others } = first(text);
        fc.pre(from < rules.length && to < rules.length);
        if (rulesIn(text)) cut++;
        const expected = [...rules];
        expected.splice(to, 0, ...expected.splice(from, 1));
        expect(first(withMoved(text, from, to))).toEqual({ rules: expected, ...others });
      }),
      { numRuns: 500 },
    );
    expect(cut).toBeGreaterThan(100);
  });

  it('are not told where a rule may begin elsewhere than at a line', () => {
    expect(rulesIn('policy: a\nrules: [{rule: b, then: block}]\n')).toBeUndefined();
    expect(rulesIn('policy: a\nrules: []\n')).toBeUndefined();
    expect(rulesIn('policy: a\n')).toBeUndefined();
    expect(rulesIn('policy: a\nrules:\n  - rule: b\n    note: |\n      text\n    then: block\n')).toBeUndefined();
  });

  it('keep the comments of a rule with it', () => {
    const text = 'rules:\n  # of a\n  - rule: a\n    then: block\n  # of b\n  - rule: b\n    then: block # why\n';
    expect(withMoved(text, 1, 0)).toBe(
      'rules:\n  # of b\n  - rule: b\n    then: block # why\n  # of a\n  - rule: a\n    then: block\n',
    );
  });
});
