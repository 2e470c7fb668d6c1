import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { differences, textDifference } from './difference.js';
import { movesBetween } from './order.js';

/** A state of a workspace from the text of its file. */
function written(text: string) {
  const { workspace, documents, issues } = readWorkspace([{ name: 'garden.yaml', text }]);
  expect(issues).toEqual([]);
  return { workspace, documents };
}

const POLICY = `policy: visitor-web
covers: {clients: [10.40.0.0/21]}
default: block
rules:
  - rule: no-uploads
    when: {method: [POST]}
    then: block
  - rule: web-for-all
    when: {scheme: [https]}
    then: allow
  - rule: no-wagering
    when: {host: [.meadowbet.example]}
    then: block
`;

const wordsOf = (before: string, after: string) =>
  differences(written(before), written(after)).map(({ kind, name, change, words }) => [change, kind, name, ...words]);

describe('what differs between two states', () => {
  it('is nothing between a state and itself', () => {
    expect(wordsOf(POLICY, POLICY)).toEqual([]);
  });

  it('reports a rule that was moved, and not those that it was moved past', () => {
    const rules = POLICY.split('  - rule: ');
    const moved = [rules[0], rules[1], rules[3], rules[2]].join('  - rule: ');
    expect(wordsOf(POLICY, moved)).toEqual([
      ['changed', 'policy', 'visitor-web', 'rule `no-wagering` moved above `web-for-all`'],
    ]);
  });

  it('reports rules that came, went and changed, in their sentences', () => {
    const edited = POLICY.replace('method: [POST]', 'method: [POST, PUT]')
      .replace(/ {2}- rule: no-wagering(?:.|\n)*$/, '')
      .replace('  - rule: web-for-all', '  - rule: quiet\n    then: {tag: visitor}\n  - rule: web-for-all');
    expect(wordsOf(POLICY, edited)).toEqual([
      [
        'changed',
        'policy',
        'visitor-web',
        'rule `no-wagering` removed: Block requests to meadowbet.example with its subdomains.',
        'rule `quiet` added above `web-for-all`: Tag every request as `visitor`.',
        'rule `no-uploads` was: Block POST requests. It is: Block POST or PUT requests.',
      ],
    ]);
  });

  it('reports the stance, the default and what is covered', () => {
    const edited = POLICY.replace('default: block', 'default: allow\nstance: observe').replace(
      '10.40.0.0/21',
      '10.40.0.0/22, 10.40.8.0/24',
    );
    expect(wordsOf(POLICY, edited)[0]?.slice(3)).toEqual([
      'added to the clients that it covers: `10.40.0.0/22`, `10.40.8.0/24`',
      'taken from the clients that it covers: `10.40.0.0/21`',
      'its stance was enforce; it is observe',
      'the default was: Block every request that no rule decides. It is: Allow every request that no rule decides.',
    ]);
  });

  it('counts what came to a list and what went, and names the first few', () => {
    const list = (entries: string[]) => `list: edge-proxies\nof: addresses\nentries: [${entries.join(', ')}]\n`;
    const many = Array.from({ length: 9 }, (_, at) => `10.10.2.${at}`);
    expect(wordsOf(list(['10.10.1.4', '10.10.1.5']), list(['10.10.1.4', ...many]))).toEqual([
      [
        'changed',
        'list',
        'edge-proxies',
        '9 addresses added to `edge-proxies`: `10.10.2.0`, `10.10.2.1`, `10.10.2.2`, `10.10.2.3`, `10.10.2.4` and 4 more',
        '1 address taken from `edge-proxies`: `10.10.1.5`',
      ],
    ]);
  });

  it('has no words for a comment, and still reports that the text is another', () => {
    expect(wordsOf(POLICY, `# Read by the gardeners\n${POLICY}`)).toEqual([['changed', 'policy', 'visitor-web']]);
  });

  it('reports objects that came and went', () => {
    const probe = '---\nprobe: desk\nclient: 198.18.97.3\n';
    expect(wordsOf(POLICY, POLICY + probe)).toEqual([['added', 'probe', 'desk', 'A client at 198.18.97.3.']]);
    expect(wordsOf(POLICY + probe, POLICY)).toEqual([['removed', 'probe', 'desk', 'A client at 198.18.97.3.']]);
  });
});

describe('moves between two orders', () => {
  const names = fc.uniqueArray(fc.constantFrom(...'abcdefghijkl'), { maxLength: 12 });

  it('are none where the order is the same', () => {
    fc.assert(fc.property(names, (order) => movesBetween(order, order).length === 0));
  });

  it('make the one order of the other, and leave the most where it is', () => {
    fc.assert(
      fc.property(
        names.chain((order) => fc.tuple(fc.constant(order), fc.shuffledSubarray(order, { minLength: order.length }))),
        ([before, after]) => {
          const moved = new Set(movesBetween(before, after).map(({ name }) => name));
          const stayed = (order: readonly string[]) => order.filter((name) => !moved.has(name));
          expect(stayed(before)).toEqual(stayed(after));
          // With any one of them left where it is, the others would not be in order: none is moved for nothing.
          for (const name of moved) {
            const with_ = (order: readonly string[]) => order.filter((each) => each === name || !moved.has(each));
            expect(with_(before)).not.toEqual(with_(after));
          }
        },
      ),
    );
  });
});

describe('the lines that differ', () => {
  it('are reported as a unified diff', () => {
    expect(textDifference('a.yaml', 'one\ntwo\n', 'one\n2\n')).toBe(
      '--- a.yaml\n+++ a.yaml\n@@ -1,2 +1,2 @@\n one\n-two\n+2\n',
    );
    expect(textDifference('a.yaml', undefined, 'one\n')).toContain('--- /dev/null\n+++ a.yaml\n');
    expect(textDifference('a.yaml', 'one\n', 'one\n')).toBe('');
  });

  it('are not given where too much differs', () => {
    const lines = (word: string) => Array.from({ length: 6000 }, (_, at) => `${word} ${at}\n`).join('');
    expect(textDifference('a.yaml', lines('was'), lines('is'))).toBeNull();
  });
});
