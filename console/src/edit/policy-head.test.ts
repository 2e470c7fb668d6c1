import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { duplicateOf, type HeadValue, newPolicy, readHead, withHeadKey, writtenHead } from './policy-head.js';

const POLICY = `# The ticket shop.
policy: ticket-site
note: sells tickets   # since 2019
covers:
  hosts: [tickets.fennelhill.example]
default: block
rules:
  # first
  - rule: a
    when: {host: [x.example],   path: ["/y"]}
    then: allow
`;
const rulesOf = (text: string) => text.slice(text.search(/^rules:/m));
const head = (text: string) => readHead(text) as HeadValue;
const changed = (text: string, change: Partial<HeadValue>) => {
  const [part] = Object.keys(change) as [keyof HeadValue];
  return withHeadKey(text, ...writtenHead({ ...head(text), ...change }, part));
};

describe('the head of a policy', () => {
  it('is read with what holds where nothing is written', () => {
    expect(head(POLICY)).toMatchObject({
      ...{ note: 'sells tickets', hosts: ['tickets.fennelhill.example'], clients: [], default: 'block' },
      ...{ from: 'peer', trust: [], resolve: false, slashes: 'merge', case: 'keep', stance: 'enforce', redact: [] },
    });
    expect(readHead('- a')).toEqual({ faults: ['a policy is a map of keys'] });
    expect(readHead('policy: [')).toHaveProperty('faults');
  });

  it.each<[Partial<HeadValue>, string, unknown]>([
    [{ hosts: ['a.example', 'b.example'] }, 'covers', { hosts: ['a.example', 'b.example'] }],
    [{ clients: ['10.40.0.0/16'] }, 'covers', { hosts: ['tickets.fennelhill.example'], clients: ['10.40.0.0/16'] }],
    [{ hosts: [] }, 'covers', undefined],
    [{ from: 'forwarded' }, 'client', { from: 'forwarded', trust: [] }],
    [{ from: 'header' }, 'client', { from: { header: 'x-client' }, trust: [] }],
    [{ resolve: true }, 'destinations', { resolve: true }],
    [{ case: 'ignore' }, 'paths', { case: 'ignore' }],
    [{ default: 'allow' }, 'default', 'allow'],
    [{ default: { block: { status: 451 } } }, 'default', { block: { status: 451 } }],
    [{ stance: 'observe' }, 'stance', 'observe'],
    [{ note: '' }, 'note', undefined],
    [{ redact: ['client/24'] }, 'redact', ['client/24']],
  ])('takes %j, and leaves the rules to the letter', (change, key, value) => {
    const text = changed(POLICY, change);
    expect(parse(text)[key]).toEqual(value);
    expect(rulesOf(text)).toBe(rulesOf(POLICY));
    expect(text).toContain('# The ticket shop.');
    // Taking it back gives what it was, as far as it means anything.
    const before = Object.fromEntries(Object.keys(change).map((each) => [each, head(POLICY)[each as keyof HeadValue]]));
    expect(parse(changed(text, before))).toEqual(parse(POLICY));
  });

  it('is edited where keys come behind the rules, too', () => {
    const text = 'policy: a\nrules:\n  - {rule: b, then: allow}\ndefault: block\n';
    expect(parse(changed(text, { default: 'allow' }))).toEqual({
      ...{ policy: 'a', rules: [{ rule: 'b', then: 'allow' }], default: 'allow' },
    });
  });

  it('of a duplicate has another name and covers nothing', () => {
    const text = duplicateOf(POLICY, 'herbarium');
    expect(parse(text)).toMatchObject({ policy: 'herbarium', default: 'block' });
    expect(head(text)).toMatchObject({ hosts: [], clients: [] });
    expect(rulesOf(text)).toBe(rulesOf(POLICY));
  });

  it('of a new policy covers what it was given', () => {
    const covers = { hosts: ['a.example'], clients: ['10.0.0.0/8', '2001:db8::/32'] };
    expect(parse(newPolicy('p', covers, 'allow'))).toEqual({ policy: 'p', covers, default: 'allow', rules: [] });
    const odd = { hosts: ['[2001:db8::1]', '*.a.example', 'true', '{', '# x'], clients: ['- 1', 'null'] };
    expect(parse(newPolicy('p', odd, 'allow'))).toMatchObject({ covers: odd });
    expect(newPolicy('p', { hosts: [], clients: [] }, 'block')).toBe('policy: p\ndefault: block\nrules: []\n');
  });
});
