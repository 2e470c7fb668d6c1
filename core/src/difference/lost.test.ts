import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { lostWords } from './lost.js';

const list = (...entries: readonly string[]) => objectOf(`list: a\nof: addresses\nentries: [${entries.join(', ')}]\n`);
const policy = (...rules: readonly string[]) =>
  objectOf(
    `policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\nrules:\n${rules.map((rule) => `  - ${rule}\n`).join('')}`,
  );
const block = (name: string, path: string) => `{rule: ${name}, when: {path: [${path}]}, then: block}`;

function objectOf(text: string) {
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  return workspace.lists.get('a') ?? workspace.policies.get('p')!;
}

describe('what is lost of a list', () => {
  const base = list('192.0.2.1', '192.0.2.2');

  it('is what was added since, and what was taken out since', () => {
    expect(lostWords(base, list('192.0.2.1', '192.0.2.2', '192.0.2.3'), base)).toEqual([
      '1 address added since would be gone: `192.0.2.3`',
    ]);
    expect(lostWords(base, list('192.0.2.1'), list('192.0.2.1', '192.0.2.2', '192.0.2.9'))).toEqual([
      '1 address taken out since would be back: `192.0.2.2`',
    ]);
  });

  it('is nothing where the file has the edits too, whatever else it changes', () => {
    const current = list('192.0.2.1', '192.0.2.3');
    expect(lostWords(base, current, list('192.0.2.1', '192.0.2.3', '192.0.2.4'))).toEqual([]);
    expect(lostWords(base, current, list('192.0.2.3'))).toEqual([]);
    expect(lostWords(base, base, list('192.0.2.9'))).toEqual([]);
  });

  it('is all that it has and the file has not, where no file gave it', () => {
    expect(lostWords(undefined, base, list('192.0.2.2'))).toEqual(['1 address added since would be gone: `192.0.2.1`']);
    expect(lostWords(undefined, base, undefined)).toEqual(['it would be removed, as it was changed since']);
  });
});

describe('what is lost of a policy', () => {
  const base = policy(block('one', '/1'), block('two', '/2'));

  it('is the rules that were added, changed and removed since', () => {
    const current = policy(block('new', '/n'), block('one', '/one'));
    const next = policy(block('one', '/1'), block('two', '/2'), block('three', '/3'));
    expect(lostWords(base, current, next)).toEqual([
      'rule `new`, which was added since, would be gone: Block requests for /n.',
      'rule `one`, which was changed since, would be overwritten: Block requests for /one.',
      'rule `two`, which was removed since, would be back',
    ]);
  });

  it('is nothing of what the file does alike or leaves as it was', () => {
    const current = policy(block('one', '/one'), block('two', '/2'));
    expect(lostWords(base, current, policy(block('one', '/one'), block('two', '/other')))).toEqual([]);
  });
});
