import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { ruleTexts, withAdded, withMoved, withoutRule, withRule } from './policy-text.js';
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

  it('are not given where a rule may begin elsewhere than at a line', () => {
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

const written = fc.constantFrom(
  'rule: new\nthen: block\n',
  '# above\nrule: new\n# within\nwhen: {host: [a.example]}\n\nthen: allow # why\n# behind\n',
  '{rule: new, then: block}',
  'rule: new\nnote: |\n  two\n\n  lines\nthen: block\n\n\n',
  'rule: new\nwhen:\n  - host: a.example\n  - {path: /x}\nthen: allow',
);

describe('an edit of one rule', () => {
  it('gives the rules that YAML would, and leaves the text of all others to the letter', () => {
    let kept = 0;
    fc.assert(
      fc.property(policy, written, fc.nat(5), (text, rule, place) => {
        if (text.includes('---')) return;
        const { rules, ...others } = first(text);
        fc.pre(place < rules.length);
        const mine = parse(rule) as unknown;
        const replaced = withRule(text, place, rule);
        expect(first(replaced)).toEqual({ rules: rules.with(place, mine), ...others });
        expect(first(withAdded(text, place, rule))).toEqual({ rules: rules.toSpliced(place, 0, mine), ...others });
        expect(first(withAdded(text, rules.length, rule))).toEqual({ rules: [...rules, mine], ...others });
        expect(first(withoutRule(text, place))).toEqual({ rules: rules.toSpliced(place, 1), ...others });
        expect(ruleTexts(text).map((each) => parse(each) as unknown)).toEqual(rules);
        const slices = rulesIn(text);
        const now = rulesIn(replaced);
        if (!slices || !now) return;
        kept++;
        const isOther = (_: string, at: number) => at !== place;
        expect([now.head, now.rules.filter(isOther), now.tail]).toEqual([
          slices.head,
          slices.rules.filter(isOther),
          slices.tail,
        ]);
      }),
      { numRuns: 500 },
    );
    expect(kept).toBeGreaterThan(100);
  });

  it('that changes nothing changes nothing', () => {
    const text = `# head
policy: a
rules:
  # about x
  - rule: x
    then: block # why
    # tail of x
  # before y

  - rule: y
    then: allow

  # end
default: allow
`;
    for (const place of [0, 1]) expect(withRule(text, place, ruleTexts(text)[place] as string)).toBe(text);
  });
});
