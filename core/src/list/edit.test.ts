import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { domainSetContains } from '../domain/index.js';
import { editedReading, linkFiles, type ReadFiles, readFiles } from '../workspace/index.js';
import { editList } from './edit-text.js';
import type { List } from './list.js';
import { compileLists } from './sets.js';

const NAMES = ['a.example', 'b.a.example', 'c.b.a.example', 'example', 'd.example', '__proto__.example'];
const words = fc.tuple(fc.constantFrom('', '.', '*.'), fc.constantFrom(...NAMES)).map((parts) => parts.join(''));
const entry = fc.record(
  { entry: words, note: fc.constantFrom('one', 'two'), until: fc.constantFrom('2026-12-01', '2027-12-01') },
  { requiredKeys: ['entry'] },
);
const edits = fc.array(
  fc.record({ add: fc.array(entry, { maxLength: 4 }), remove: fc.array(words, { maxLength: 3 }) }),
  { minLength: 1, maxLength: 5 },
);
const AT = Date.parse('2027-01-01T00:00:00Z');

const textOf = (entries: readonly string[]) =>
  `list: sites\nof: domains\nentries: [${entries.map((each) => JSON.stringify(each)).join(', ')}]\n`;
const read = (text: string): ReadFiles => readFiles([{ name: 'sites.yaml', text }]);
const listOf = (reading: ReadFiles): List => reading.objects[0]?.object as List;
const shown = (list: List) => list.entries.map(({ text, note, until }) => ({ text, note, until }));
const setOf = (reading: ReadFiles) => compileLists(linkFiles([reading]).workspace.lists, AT).domains.get('sites');

describe('a list that is edited by its entries', () => {
  it('is what its text is after the same edits, at once or one by one', () => {
    fc.assert(
      fc.property(fc.uniqueArray(words, { maxLength: 8 }), edits, (entries, made) => {
        const base = read(textOf(entries));
        const all = editedReading(base, made).read;
        const last = made.reduce((reading, edit) => editedReading(reading, [edit]).read, base);
        expect(shown(listOf(all))).toEqual(shown(listOf(read(all.documents[0]?.text ?? ''))));
        expect(shown(listOf(last))).toEqual(shown(listOf(all)));
      }),
      { numRuns: 300 },
    );
  });

  it('holds what a list of the same entries holds', () => {
    fc.assert(
      fc.property(fc.uniqueArray(words, { maxLength: 8 }), edits, (entries, made) => {
        const base = read(textOf(entries));
        setOf(base);
        const edited = made.reduce((reading, edit) => editedReading(reading, [edit]).read, base);
        const fresh = read(edited.documents[0]?.text ?? '');
        const [changed, plain] = [setOf(edited), setOf(fresh)];
        expect(changed?.size).toBe(plain?.size);
        for (const host of [...NAMES, ...NAMES.map((name) => `www.${name}`)])
          expect([host, changed && domainSetContains(changed, host)]).toEqual([
            host,
            plain && domainSetContains(plain, host),
          ]);
      }),
      { numRuns: 300 },
    );
  });

  it('says what is there and what is not, as editing the text does', () => {
    const text = textOf(['a.example', 'd.example']);
    const edit = { add: [{ entry: 'a.example' }, { entry: '.new.example' }], remove: ['d.example', 'none.example'] };
    const { present, missing } = editedReading(read(text), [edit]);
    const plain = editList(text, edit.add, edit.remove);
    expect({ present, missing }).toEqual({ present: plain.present, missing: plain.missing });
    expect({ present, missing }).toEqual({ present: ['a.example'], missing: ['none.example'] });
  });

  it('reports added entries that do not hold', () => {
    const bad = editedReading(read(textOf(['a.example'])), [{ add: [{ entry: 'not a host' }], remove: [] }]);
    expect(linkFiles([bad.read]).issues).toMatchObject([{ code: 'bad-host', file: 'list sites, entries to add' }]);
  });

  it('shares the set of a long list, rather than make it anew', () => {
    const base = read(textOf(NAMES));
    const set = setOf(base);
    const edited = setOf(editedReading(base, [{ add: [{ entry: 'new.example' }], remove: ['example'] }]).read);
    expect(edited?.slots).toBe(set?.slots);
    expect(edited?.size).toBe(set?.size);
  });
});
