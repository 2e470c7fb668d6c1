import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { FIRST_LINE, listFromLines } from './from-lines.js';

describe('a list of the lines of a file', () => {
  it('has an entry for each, with the note behind it, and leaves out what says nothing', () => {
    const { text, lineOf } = listFromLines(
      'sites',
      'domains',
      '# from a friend\n\na.example\r\n *.b.example   # late one\n',
    );
    const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
    expect(issues).toEqual([]);
    expect(workspace.lists.get('sites')?.entries.map(({ text: entry, note }) => [entry, note])).toEqual([
      ['a.example', undefined],
      ['*.b.example', 'late one'],
    ]);
    expect([...lineOf]).toEqual([3, 4]);
  });

  it('names invalid lines by their numbers in the file', () => {
    const { text, lineOf } = listFromLines('hosts', 'addresses', '\n10.0.0.1\n10.0.0.256\n: {odd\n');
    const { issues } = readWorkspace([{ name: 'a.yaml', text }]);
    expect(issues.map(({ line }) => lineOf[line - 1 - FIRST_LINE])).toEqual([3, 4]);
  });

  it('takes every line as it was written, whatever YAML would make of it', () => {
    const line = fc.oneof(
      fc.string({ minLength: 1, maxLength: 20 }),
      fc.constantFrom(
        'null',
        'true',
        '1.50',
        '0x1f',
        '~',
        '- a',
        'a: b',
        '*x',
        '&x',
        '!x',
        '"x',
        "'x",
        '{x',
        '[x',
        '%x',
        '@x',
        '`x',
      ),
    );
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 5 }), (lines) => {
        const written = lines
          .map((each) => each.replace(/[\r\n\u0085\u2028\u2029#\p{Cc}\p{Cs}]/gu, '').trim())
          .filter((each) => each !== '' && each.length < 20);
        const { text } = listFromLines('people', 'agents', `${written.join('\n')}\n`);
        const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
        // What is no pattern is reported as such, and never as a fault of the writing.
        expect(issues.filter(({ code }) => code === 'syntax' || code === 'wrong-shape')).toEqual([]);
        const seen = new Set(workspace.lists.get('people')?.entries.map((entry) => entry.text));
        if (issues.length === 0) for (const each of written) expect(seen).toContain(each);
      }),
    );
  });
});
