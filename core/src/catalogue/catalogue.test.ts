import { describe, expect, it } from 'vitest';
import { readFiles, readWorkspace } from '../workspace/index.js';
import { catalogueRows, mergedCatalogue } from './index.js';

const TEXT = `category: media # films
note: Films and music
domains: [.reel.example]
urls: [herbarium.fennelhill.example/films/**]
---
application: remote-shell
when: [{port: 22, protocol: SSH/2.0}, {port: 2222}]
risk: 5
needs: [name-look-up]
---
application: name-look-up
note: "Names: to addresses"
when: {port: 53}
`;
const { documents } = readFiles([{ name: 'a.yaml', text: TEXT }]);
const holds = (texts: readonly { readonly text: string }[]) => {
  const replaced = [...documents, ...texts].reduce(
    (all, { text }) => all.set(text.split('\n', 1)[0]?.replace(/ *#.*/, '') ?? '', text),
    new Map<string, string>(),
  );
  return readWorkspace([{ name: 'b.yaml', text: [...replaced.values()].join('---\n') }]);
};

describe('a catalogue as rows', () => {
  it('has a row for each entry of a category, and one for each application', () => {
    expect(catalogueRows('category', documents)).toEqual([
      { category: 'media', entry: '.reel.example', note: 'Films and music' },
      { category: 'media', entry: 'herbarium.fennelhill.example/films/**' },
    ]);
    expect(catalogueRows('application', documents)).toEqual([
      {
        application: 'remote-shell',
        risk: '5',
        needs: 'name-look-up',
        when: '[{port: 22, protocol: SSH/2.0}, {port: 2222}]',
      },
      { application: 'name-look-up', note: 'Names: to addresses', when: '{port: 53}' },
    ]);
  });

  it('comes back as it went out', () => {
    for (const kind of ['category', 'application'] as const) {
      const merged = mergedCatalogue(kind, [], [{ name: 'back', rows: catalogueRows(kind, documents) }]);
      const { documents: again, issues } = readFiles(merged.documents);
      expect(issues).toEqual([]);
      expect(catalogueRows(kind, again)).toEqual(catalogueRows(kind, documents));
    }
  });
});

describe('merging sources', () => {
  it('takes each entry from the first that knows it, the workspace before all, and says what is passed over', () => {
    const merged = mergedCatalogue('category', documents, [
      {
        name: 'first.csv',
        rows: [
          { category: 'news', entry: '.REEL.example' },
          { category: 'media', entry: '*.songs.example' },
          { category: 'news', entry: 'gazette.example', note: 'Papers' },
          { category: 'politics', entry: 'gazette.example' },
        ],
      },
      {
        name: 'second.csv',
        rows: [
          { category: 'wagering', entry: 'gazette.example' },
          { category: 'news', entry: 'gazette.example' },
        ],
      },
    ]);
    expect(merged.passedOver).toEqual([
      { source: 'first.csv', what: '.REEL.example', said: 'news', by: 'workspace', instead: 'media' },
      { source: 'second.csv', what: 'gazette.example', said: 'wagering', by: 'first.csv', instead: 'news, politics' },
    ]);
    expect(merged.taken).toBe(4);
    const media = merged.documents.find(({ name }) => name === 'media')?.text;
    expect(media).toContain('category: media # films');
    expect(media).toContain('domains: [.reel.example, "*.songs.example"]');
    expect(holds(merged.documents).issues).toEqual([]);
    expect(holds(merged.documents).workspace.categories.get('politics')?.domains).toHaveLength(1);
  });

  it('takes each application whole from the first that knows it', () => {
    const rows = [
      { application: 'time', when: '{port: 123, protocol: NTP}', needs: 'name-look-up' },
      { application: 'name-look-up', when: '{port: [53, 853]}' },
    ];
    const merged = mergedCatalogue('application', documents, [{ name: 'ports.csv', rows }]);
    expect(merged.documents.map(({ name }) => name)).toEqual(['time']);
    expect(merged.passedOver).toMatchObject([{ what: 'name-look-up', by: 'workspace', instead: '{port: 53}' }]);
    expect(holds(merged.documents).issues).toEqual([]);
  });

  it('leaves what does not hold to be reported by whoever reads the documents', () => {
    const rows = [{ application: 'odd', when: '{prot: 1' }];
    const { issues } = readFiles(mergedCatalogue('application', [], [{ name: 'odd.csv', rows }]).documents);
    expect(issues.length).toBeGreaterThan(0);
  });
});
