import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse } from 'yaml';
import { withValue } from './document-text.js';

const SCHEDULE = `schedule: opening-hours
# When the gates are open
zone: Europe/Lisbon # summer time
weekly: {mon-fri: ["09:00-12:00", "14:00-18:00"]}
`;
const CATEGORY = `category: media
domains:
  # Films
  - .willowreel.example
  - .mossgram.example # pictures
urls: []
`;
const CHECK = `check: who
destinations:
  tickets: https://tickets.fennelhill.example/
expect:
  # A visitor
  phone: {tickets: allow}
`;

describe('a value of a document', () => {
  it.each([
    ['in place of one', withValue(SCHEDULE, ['zone'], 'Asia/Tokyo'), SCHEDULE.replace('Europe/Lisbon', 'Asia/Tokyo')],
    [
      'where people write it',
      withValue(SCHEDULE, ['note'], 'ours', ['schedule', 'note', 'zone']),
      SCHEDULE.replace('# When', 'note: ours\n# When'),
    ],
    [
      'deeper down',
      withValue(SCHEDULE, ['weekly', 'sat'], ['10:00-16:00']),
      SCHEDULE.replace('"]}', '"], sat: [10:00-16:00]}'),
    ],
    [
      'below a key that was not there',
      withValue(SCHEDULE, ['except', '2026-12-25'], 'closed'),
      `${SCHEDULE}except:\n  2026-12-25: closed\n`,
    ],
    [
      'in a list of lines, whose comments stay',
      withValue(CATEGORY, ['domains'], ['.mossgram.example', '.birdsong.example']),
      CATEGORY.replace(/ {2}- .willow.*\n/, '').replace('pictures\n', 'pictures\n  - .birdsong.example\n'),
    ],
    ['in an empty list', withValue(CATEGORY, ['urls'], ['a.example/**']), CATEGORY.replace('[]', '[a.example/**]')],
    [
      'of a row of a grid',
      withValue(CHECK, ['expect', 'phone', 'map'], 'block'),
      CHECK.replace('allow}', 'allow, map: block}'),
    ],
    [
      'in a row of its own',
      withValue(CHECK, ['expect', 'desk', 'tickets'], 'block'),
      `${CHECK}  desk:\n    tickets: block\n`,
    ],
    ['taken out', withValue(CHECK, ['destinations'], undefined), CHECK.replace(/destinations:\n.*\n/, '')],
    ['taken out where it is not', withValue(CHECK, ['nothing', 'here'], undefined), CHECK],
    ['of no document', withValue('', ['category'], 'media'), 'category: media\n'],
  ])('%s', (_, edited, expected) => {
    expect(edited).toBe(expected);
  });

  it('that is a long list is written a line each', () => {
    const names = Array.from({ length: 12 }, (_, number) => `name-${number}.fennelhill.example`);
    expect(withValue('category: ours\n', ['domains'], names)).toBe(
      `category: ours\ndomains:\n${names.map((name) => `  - ${name}\n`).join('')}`,
    );
  });

  const word = fc.oneof(
    fc.constantFrom('2026-12-25', '10', 'null', '~', 'true', '__proto__', '- a', '#', 'a: b', '"', '198.51.100.0/24'),
    fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }),
  );
  const value = fc.oneof(
    word,
    fc.integer(),
    fc.array(word, { maxLength: 4 }),
    fc.dictionary(word, word, { maxKeys: 3 }),
  );

  it('is read back as it was set, and all else as before', () => {
    fc.assert(
      fc.property(
        fc.dictionary(word, value, { maxKeys: 5 }),
        word,
        fc.option(word),
        value,
        (document, key, below, set) => {
          const before = withValue('', ['first'], 'x');
          const text = Object.entries(document).reduce((all, [each, of]) => withValue(all, [each], of), before);
          const path: [string, ...string[]] = below === null ? [key] : [key, below];
          const after = new Map(Object.entries(parse(withValue(text, path, set)) as object));
          const other = new Map(Object.entries(parse(text) as object));
          const got = below === null ? after.get(key) : new Map(Object.entries(after.get(key) as object)).get(below);
          expect(got).toEqual(set);
          after.delete(key);
          other.delete(key);
          expect(after).toEqual(other);
        },
      ),
    );
  });
});
