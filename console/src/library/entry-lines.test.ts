import { readListFile } from '@jade-fence/core/workspace';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { entriesOfLines } from './entry-lines.js';

describe('entries of lines', () => {
  it('have notes behind a #, and leave out what is none', () => {
    expect(entriesOfLines('# ours\n198.51.100.7 # gate\n\n  203.0.113.0/24\r\n~^Bot#1\n')).toEqual([
      { entry: '198.51.100.7', note: 'gate' },
      { entry: '203.0.113.0/24' },
      { entry: '~^Bot#1' },
    ]);
  });

  it('are those that a file of them has', () => {
    const part = fc.constantFrom('198.51.100.7', '203.0.113.0/24', '#', ' # ', 'note', ' ', '\t', '\r', 'a#b');
    const line = fc.array(part, { maxLength: 4 }).map((parts) => parts.join(''));
    fc.assert(
      fc.property(fc.array(line, { maxLength: 5 }), (lines) => {
        const text = lines.join('\n');
        const { read, faults } = readListFile('ours', 'agents', text);
        const object = read.objects[0]?.object;
        const inFile = object?.type === 'list' ? object.entries.length : 0;
        // The reader of files joins no two lines and splits none: there are as many, valid or not.
        expect(entriesOfLines(text)).toHaveLength(inFile + faults.length);
      }),
    );
  });
});
