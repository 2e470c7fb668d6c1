import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { editList } from './edit-text.js';

const SHORT = `# Who stands before our sites
list: edge-proxies
of: addresses
entries:
  - 10.10.1.4 # the old one
  - {entry: 10.10.1.5, note: new, until: 2026-12-01T00:00:00Z}
note: Two of them
`;
const LONG = `list: sites
of: domains
# From the library
entries:
${Array.from({ length: 500 }, (_, at) => `  - n${at}.host.example\n`).join('')}  # by hand
  - {entry: late.example, note: by hand}
  - last.example
include: []
`;

const entriesOf = (text: string): string[] => {
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text: text.replace('include: []\n', '') }]);
  expect(issues).toEqual([]);
  return [...workspace.lists.values()].flatMap((list) => list.entries.map((entry) => entry.text));
};

describe('editing the text of a list', () => {
  it('adds and removes entries, and leaves the rest as it was', () => {
    const { text, missing, present } = editList(SHORT, [{ entry: '10.10.1.6' }], ['10.10.1.5']);
    expect(text).toBe(SHORT.replace(/ {2}- \{.*\n/, '  - 10.10.1.6\n'));
    expect([missing, present]).toEqual([[], []]);
  });

  it('writes notes and ends beside an entry, and says what is there or is not', () => {
    const added = { entry: '10.10.1.7', note: 'for the fair', until: '2026-12-24' };
    const { text, missing, present } = editList(SHORT, [added, { entry: '10.10.1.4' }], ['10.10.1.9']);
    expect(text).toContain('  - {entry: 10.10.1.7, note: for the fair, until: 2026-12-24}\n');
    expect([missing, present]).toEqual([['10.10.1.9'], ['10.10.1.4']]);
  });

  it('works in lists that are written in one line, and in those that have no entries', () => {
    expect(editList('list: a\nof: users\nentries: [ines, rui]\n', [{ entry: 'sol' }], ['rui']).text).toBe(
      'list: a\nof: users\nentries: [ines, sol]\n',
    );
    expect(entriesOf(editList('list: a\nof: users\n', [{ entry: 'sol' }], []).text)).toEqual(['sol']);
    expect(entriesOf(editList('list: a\nof: agents\n', [{ entry: '*bot*' }], []).text)).toEqual(['*bot*']);
  });

  it('changes one line of a long list', () => {
    const { text, missing } = editList(LONG, [{ entry: 'more.example' }], ['n250.host.example', 'late.example']);
    expect(missing).toEqual([]);
    const before = entriesOf(LONG);
    expect(entriesOf(text)).toEqual([
      ...before.filter((entry) => entry !== 'n250.host.example' && entry !== 'late.example'),
      'more.example',
    ]);
    expect(text).toContain('# From the library');
    // The comment above an entry goes with it.
    expect(text).not.toContain('# by hand');
    expect(text.split('\n').length).toBe(LONG.split('\n').length - 2);
  });

  it('loses nothing where the entries around a long run go', () => {
    const all = entriesOf(LONG);
    for (const gone of [
      ['n499.host.example'],
      ['n0.host.example'],
      ['n498.host.example', 'n499.host.example', 'late.example', 'last.example'],
    ]) {
      const { text } = editList(LONG, [], gone);
      expect(entriesOf(text)).toEqual(all.filter((entry) => !gone.includes(entry)));
    }
  });

  it('takes an entry for no part of another, nor for an expression', () => {
    const { missing, text } = editList(
      LONG,
      [{ entry: 'n7.host.example' }],
      ['n2', '.host.example', 'n.50.host.example'],
    );
    expect(missing).toEqual(['n2', '.host.example', 'n.50.host.example']);
    expect(entriesOf(text)).toEqual(entriesOf(LONG));
  });
});
