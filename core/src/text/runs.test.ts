import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { readWorkspace } from '../workspace/index.js';
import { cutRuns } from './runs.js';

const WORDS = [
  'a.example',
  '.b.example',
  '198.18.0.0/16',
  '10.0.0.1-10.0.0.9',
  '2001:db8::/32',
  'x',
  '12',
  '1.5',
  'null',
  'true',
  '2026-11-12',
];
const ODD = [
  '"q.example"',
  "'s'",
  '{entry: y.example, note: late}',
  '*.c.example',
  'a: b',
  'z.example # late',
  '',
  '~',
  '- deep',
  '::1',
];

/** A list of many items, most of them plain, as people and programs write them. */
const lists = fc
  .record({
    items: fc.array(
      fc.oneof({ weight: 40, arbitrary: fc.constantFrom(...WORDS) }, { weight: 1, arbitrary: fc.constantFrom(...ODD) }),
      { minLength: 60, maxLength: 400 },
    ),
    indent: fc.constantFrom('', '  ', '    '),
    end: fc.constantFrom('', '\n', 'include: []\n', '# over\n', '---\nlist: other\nof: domains\n', '  not yaml: [\n'),
    newline: fc.constantFrom('\n', '\r\n'),
    tail: fc.constantFrom('', ' ', '\t'),
  })
  .map(({ items, indent, end, newline, tail }) =>
    ['list: long', 'of: domains', 'entries:', ...items.map((item) => `${indent}- ${item}${tail}`), end].join(newline),
  );

const read = (text: string, cut: boolean) => {
  // Without a line that begins with the key, nothing is cut out.
  const given = cut ? text : text.replace(/^entries:/m, '"entries":');
  const { workspace, issues } = readWorkspace([{ name: 'long.yaml', text: given }]);
  const entries = workspace.lists.get('long')?.entries.map(({ text: entry, note }) => [entry, note]);
  return { entries, issues: issues.map(({ code, line, path, what }) => [code, line, path, what]) };
};

describe('a long list', () => {
  it('reads as the parser of YAML reads it, problems and their lines too', { timeout: 60_000 }, () => {
    fc.assert(
      fc.property(lists, (text) => {
        expect(read(text, true)).toEqual(read(text, false));
      }),
      { numRuns: 200 },
    );
  });

  it('is cut out of what the parser is given, which stays as long as it was', () => {
    const text = `list: long\nof: domains\nentries:\n${'  - a.example\n'.repeat(1000)}note: x\n`;
    const cut = cutRuns(text);
    expect(cut.text).toHaveLength(text.length);
    expect(cut.text.split('\n').length).toBeLessThan(10);
    expect(parse(cut.text)).toEqual({ list: 'long', of: 'domains', entries: ['a.example', 'a.example'], note: 'x' });
    expect(cut.runs).toHaveLength(1);
  });

  it('is left alone where it is short, or a part of a text', () => {
    for (const text of [
      `entries:\n${'  - a.example\n'.repeat(20)}`,
      `note: |\n  entries:\n${'    - a.example\n'.repeat(200)}`,
      `when:\n${'  - a.example\n'.repeat(200)}`,
    ])
      expect(cutRuns(text)).toEqual({ text, runs: [] });
  });
});
