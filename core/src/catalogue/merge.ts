import { parseDocument, stringify } from 'yaml';
import { formatDomainPattern, tryDomainPattern } from '../domain/index.js';
import type { SourceDocument } from '../workspace/index.js';
import type { CatalogueKind } from './kind.js';
import { type CatalogueRow, catalogueRows } from './rows.js';

/** A part of a catalogue, with the name of its source. */
export interface CatalogueSource {
  readonly name: string;
  readonly rows: readonly CatalogueRow[];
}

/** A row that was not taken, since a source before says something else of the same. */
export interface PassedOver {
  readonly source: string;
  /** The entry, or the application. */
  readonly what: string;
  readonly said: string;
  /** The source that is taken instead, and what it says. */
  readonly by: string;
  readonly instead: string;
}

/** Documents that hold what was merged; only those that are other than before. */
export interface MergedCatalogue {
  readonly documents: readonly { readonly name: string; readonly text: string }[];
  readonly passedOver: readonly PassedOver[];
  /** How many rows were taken. */
  readonly taken: number;
}

type Written = Pick<SourceDocument, 'kind' | 'name' | 'text'>;

/** The source of the entries that are already in the workspace. */
export const WORKSPACE = 'workspace';

/**
 * Merges several sources into a catalogue. The workspace's own entries come first, then the sources in their order:
 * the first that knows an entry, or an application, says all of it, and what others say of it otherwise is passed over.
 */
export function mergedCatalogue(
  kind: CatalogueKind,
  documents: readonly Written[],
  sources: readonly CatalogueSource[],
): MergedCatalogue {
  const own: CatalogueSource = { name: WORKSPACE, rows: catalogueRows(kind, documents) };
  return kind === 'category' ? mergedCategories(documents, own, sources) : mergedApplications(own, sources);
}

interface Claim {
  readonly source: string;
  readonly subjects: Set<string>;
}

interface FreshCategory {
  readonly note: string | undefined;
  readonly entries: string[];
}

function mergedCategories(
  documents: readonly Written[],
  own: CatalogueSource,
  sources: readonly CatalogueSource[],
): MergedCatalogue {
  const claims = new Map<string, Claim>();
  const fresh = new Map<string, FreshCategory>();
  const passedOver: PassedOver[] = [];
  let taken = 0;
  for (const { name: source, rows } of [own, ...sources])
    for (const { category = '', entry = '', note } of rows) {
      const claim = claims.get(keyOf(entry)) ?? { source, subjects: new Set() };
      claims.set(keyOf(entry), claim);
      if (claim.source !== source && !claim.subjects.has(category)) {
        const instead = [...claim.subjects].join(', ');
        passedOver.push({ source, what: entry, said: category, by: claim.source, instead });
        continue;
      }
      if (source !== WORKSPACE) taken++;
      if (claim.subjects.has(category)) continue;
      claim.subjects.add(category);
      if (source === WORKSPACE) continue;
      const found = fresh.get(category) ?? { note, entries: [] };
      found.entries.push(entry);
      fresh.set(category, found);
    }
  const texts = new Map(documents.filter(({ kind }) => kind === 'category').map(({ name, text }) => [name, text]));
  return {
    documents: [...fresh].map(([name, category]) => ({ name, text: withEntries(name, category, texts.get(name)) })),
    passedOver,
    taken,
  };
}

/** Equal for entries that mean the same. */
function keyOf(entry: string): string {
  const pattern = entry.includes('/') ? undefined : tryDomainPattern(entry);
  return pattern === undefined || typeof pattern === 'string' ? entry : formatDomainPattern(pattern);
}

/** The text of a category with more entries; its old text stays, with its comments. */
function withEntries(name: string, { note, entries }: FreshCategory, text: string | undefined): string {
  const document = parseDocument(text ?? stringify({ category: name, ...(note && { note }) }), { version: '1.2' });
  for (const entry of entries) {
    const key = entry.includes('/') && !entry.startsWith('list:') ? 'urls' : 'domains';
    if (document.has(key)) document.addIn([key], entry);
    else document.set(key, document.createNode([entry]));
  }
  return document.toString({ lineWidth: 0, flowCollectionPadding: false });
}

function mergedApplications(own: CatalogueSource, sources: readonly CatalogueSource[]): MergedCatalogue {
  const known = new Map(own.rows.map((row) => [row.application ?? '', { source: WORKSPACE, row }]));
  const fresh: CatalogueRow[] = [];
  const passedOver: PassedOver[] = [];
  let taken = 0;
  for (const { name: source, rows } of sources)
    for (const row of rows) {
      const { application = '' } = row;
      const first = known.get(application);
      if (first === undefined) {
        known.set(application, { source, row });
        fresh.push(row);
        taken++;
      } else if (wordsOf(first.row) === wordsOf(row)) taken++;
      else {
        const shown = { said: wordsOf(row), by: first.source, instead: wordsOf(first.row) };
        passedOver.push({ source, what: application, ...shown });
      }
    }
  return {
    documents: fresh.map((row) => ({ name: row.application ?? '', text: applicationText(row) })),
    passedOver,
    taken,
  };
}

/** The row of an application, without its note. */
const wordsOf = ({ category, risk, needs, when }: CatalogueRow): string =>
  [when, category, risk && `risk ${risk}`, needs && `needs ${needs}`].filter((part) => part).join(', ');

/** Written line by line, so that a fault of a column is reported with its line. */
function applicationText({ application = '', note, category, risk, needs, when = '' }: CatalogueRow): string {
  return [
    `application: ${application}`,
    ...(note ? [`note: ${JSON.stringify(note)}`] : []),
    `when: ${when}`,
    ...(category ? [`category: ${category}`] : []),
    ...(risk ? [`risk: ${risk}`] : []),
    ...(needs
      ? [
          `needs: [${needs
            .trim()
            .split(/[\s,]+/)
            .join(', ')}]`,
        ]
      : []),
    '',
  ].join('\n');
}
