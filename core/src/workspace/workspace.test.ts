import { describe, expect, it } from 'vitest';
import { addressSet, parseAddress, setContains } from '../address/index.js';
import { compileLists } from '../list/index.js';
import { readWorkspace } from './index.js';

const read = (...texts: string[]) => readWorkspace(texts.map((text, index) => ({ name: `${index + 1}.yaml`, text })));
const shown = (...texts: string[]) => read(...texts).issues.map(({ code, file, line }) => `${code} ${file}:${line}`);

describe('a workspace', () => {
  it('says what is defined twice, across files', () => {
    expect(shown('list: a\nof: domains', 'list: b\nof: domains\n---\nlist: a\nof: domains')).toEqual([
      'duplicate-document 2.yaml:4',
    ]);
    expect(shown('list: a\nof: domains', 'policy: a\ndefault: allow')).toEqual([]);
  });

  it('reports includes that lead nowhere, to another sort or in a circle', () => {
    const list = (name: string, of: string, include: string) => `list: ${name}\nof: ${of}\ninclude: [${include}]\n`;
    expect(shown(list('a', 'domains', 'b'), list('b', 'domains', 'c'), list('c', 'domains', 'a'))).toEqual([
      'cyclic-include 3.yaml:3',
    ]);
    expect(shown(list('a', 'domains', 'a'))).toEqual(['cyclic-include 1.yaml:3']);
    expect(shown(list('a', 'domains', 'nothing'))).toEqual(['unknown-list 1.yaml:3']);
    expect(shown(list('a', 'domains', 'b'), 'list: b\nof: countries')).toEqual(['wrong-list 1.yaml:3']);
  });

  it('reports entries that do not hold, and keeps those that do', () => {
    const { workspace, issues } = read(
      'list: a\nof: addresses\nentries: [10.0.0.1, nonsense, {entry: 10.0.0.2, until: soon}, {note: x}]',
    );
    expect(issues.map(({ code }) => code)).toEqual(['bad-address', 'bad-time', 'missing-key']);
    expect(workspace.lists.get('a')?.entries).toHaveLength(2);
  });

  it('refuses two policies that cover the same, also through lists and ranges', () => {
    const policy = (name: string, covers: string) => `policy: ${name}\ndefault: allow\ncovers: ${covers}\n`;
    expect(shown(policy('a', '{hosts: [x.example]}'), policy('b', '{hosts: [X.example.]}'))).toEqual([
      'overlapping-covers 2.yaml:3',
    ]);
    expect(shown(policy('a', '{hosts: [.x.example]}'), policy('b', '{hosts: [x.example]}'))).toEqual([]);
    expect(shown(policy('a', '{clients: [10.0.0.0/8]}'), policy('b', '{clients: [10.0.0.0-10.255.255.255]}'))).toEqual([
      'overlapping-covers 2.yaml:3',
    ]);
    expect(shown(policy('a', '{clients: [10.0.0.0/8]}'), policy('b', '{clients: [10.0.0.0/9]}'))).toEqual([]);
    expect(
      shown(
        policy('a', '{hosts: [sites]}'),
        policy('b', '{hosts: [x.example]}'),
        'list: sites\nof: domains\nentries: [x.example]',
      ),
    ).toEqual(['overlapping-covers 2.yaml:3']);
  });

  it('with a hundred thousand mistakes is reported by the first thousand, soon', () => {
    const started = performance.now();
    const { issues, issueCount } = read(`list: a\nof: addresses\nentries:\n${'  - nonsense\n'.repeat(100_000)}`);
    expect([issues.length, issueCount, issues[999]?.line]).toEqual([1000, 100_000, 1003]);
    expect(performance.now() - started).toBeLessThan(30_000);
  });

  it('keeps each document’s own text, comments and all', () => {
    const { documents } = read('# first\nlist: a\nof: domains # sort\n---\n# second\nlist: b\nof: domains\n');
    expect(documents.map(({ text }) => text)).toEqual([
      '# first\nlist: a\nof: domains # sort\n',
      '# second\nlist: b\nof: domains\n',
    ]);
  });
});

describe('compiling lists', () => {
  it('brings in what they include, and leaves out what has expired', () => {
    const { workspace } = read(
      'list: a\nof: addresses\nentries: [10.0.0.1, {entry: 10.0.0.2, until: 2026-11-12T18:00:00Z}]\ninclude: [b]',
      'list: b\nof: addresses\nentries: [10.0.0.3]',
    );
    const holds = (at: string) => {
      const set = compileLists(workspace.lists, Date.parse(at)).addresses.get('a') ?? addressSet([]);
      return ['10.0.0.1', '10.0.0.2', '10.0.0.3', '10.0.0.4'].map((text) => setContains(set, parseAddress(text)!));
    };
    expect(holds('2026-11-12T17:59:59Z')).toEqual([true, true, true, false]);
    expect(holds('2026-11-12T18:00:00Z')).toEqual([true, false, true, false]);
  });
});
